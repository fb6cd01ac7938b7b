<script setup lang="ts">
// What was written and read back, file by file; what only a program compares lies behind a fold.
import type { Job } from '@lithe-sieve/contract';
import { Download } from 'lucide-vue-next';
import { computed } from 'vue';
import { fileAddress } from '../../api/handoffs.api';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';
import CheckList from './CheckList.vue';

const props = defineProps<{
  job: Job | null;
  /** The piece has changed since. */
  outdated: boolean;
}>();

/** Each file with what was looked at in it; what belongs to none comes last. */
const files = computed(() => {
  const { files: written, checks } = props.job?.report ?? { files: [], checks: [] };
  return written.map((file, at) => ({ ...file, at, checks: checks.filter((c) => c.file === file.name) }));
});
const others = computed(() => {
  const named = new Set(files.value.map((f) => f.name));
  return (props.job?.report?.checks ?? []).filter((c) => !named.has(c.file));
});
</script>

<template>
  <section class="report" aria-live="polite" aria-label="Read back">
    <template v-if="job?.report">
      <p v-if="outdated" class="soft">Of revision {{ job.report.revision }}: the piece has changed since.</p>
      <ul class="files">
        <li v-for="file in files" :key="file.name">
          <div class="line">
            <a :href="fileAddress(job.id, file.at)" download data-test="file"
              ><Download :size="13" /> <FileName :name="file.name"
            /></a>
            <span class="soft">{{ inMegabytes(file.bytes) }}</span>
          </div>
          <CheckList :checks="file.checks" />
        </li>
      </ul>
      <CheckList v-if="others.length" :checks="others" of="Beside the Bench" />
      <details>
        <summary>Fingerprints</summary>
        <p v-for="file in files" :key="file.name" class="print soft">{{ file.name }} {{ file.sha256 }}</p>
      </details>
    </template>
    <p v-else class="soft">
      Every file is read again after it is written, and compared with the Bench texel for texel. The report appears
      here.
    </p>
  </section>
</template>

<style scoped>
summary {
  font-size: 12.5px;
  cursor: pointer;
}

.print {
  font-size: 11px;
  overflow-wrap: anywhere;
}

.line {
  display: flex;
  gap: 10px;
  justify-content: space-between;
}

.files {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}

.files li {
  margin-bottom: 6px;
  overflow-wrap: anywhere;
}

.files .soft {
  white-space: nowrap;
}

a {
  color: var(--green);
}
</style>
