<script setup lang="ts">
// What was written and read back, file by file; what only a program compares lies behind a fold.
import type { HandOffReport, Job } from '@lithe-sieve/contract';
import { Check, Download, X } from 'lucide-vue-next';
import { computed } from 'vue';
import { fileAddress } from '../../api/handoffs.api';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';

const props = defineProps<{
  job: Job | null;
  /** The piece has changed since. */
  outdated: boolean;
}>();

type Checks = HandOffReport['checks'];
/** Each file with what was looked at in it; what belongs to none comes last. */
const files = computed(() => {
  const { files: written, checks } = props.job?.report ?? { files: [], checks: [] };
  return written.map((file, at) => ({ ...file, at, checks: checks.filter((c) => c.file === file.name) }));
});
const others = computed(() => {
  const named = new Set(files.value.map((f) => f.name));
  return (props.job?.report?.checks ?? []).filter((c) => !named.has(c.file));
});
const wordsOf = (checks: Checks) => {
  const failed = checks.filter((c) => !c.ok).length;
  return failed > 0 ? `${failed} of ${checks.length} checks failed` : `${checks.length} checks passed`;
};
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
          <details :open="file.checks.some((c) => !c.ok)">
            <summary :class="{ bad: file.checks.some((c) => !c.ok) }">{{ wordsOf(file.checks) }}</summary>
            <table class="checks">
              <tbody>
                <tr v-for="(check, i) in file.checks" :key="i" :class="{ bad: !check.ok }">
                  <td>
                    <Check v-if="check.ok" :size="13" aria-label="passed" /><X v-else :size="13" aria-label="failed" />
                  </td>
                  <td>{{ check.what }}</td>
                  <td class="soft">{{ check.found }}</td>
                </tr>
              </tbody>
            </table>
          </details>
        </li>
      </ul>
      <details v-if="others.length" :open="others.some((c) => !c.ok)">
        <summary :class="{ bad: others.some((c) => !c.ok) }">Beside the Bench: {{ wordsOf(others) }}</summary>
        <table class="checks">
          <tbody>
            <tr v-for="(check, i) in others" :key="i" :class="{ bad: !check.ok }">
              <td>
                <Check v-if="check.ok" :size="13" aria-label="passed" /><X v-else :size="13" aria-label="failed" />
              </td>
              <td>{{ check.what }}</td>
              <td class="soft">{{ check.found }}</td>
            </tr>
          </tbody>
        </table>
      </details>
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

summary.bad {
  color: var(--red);
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

table {
  width: 100%;
  margin-bottom: 16px;
  border-collapse: collapse;
}

td {
  padding: 4px 10px 4px 0;
  vertical-align: top;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}

tr.bad {
  color: var(--red);
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

.checks {
  font-size: 12.5px;
}

.checks td:nth-child(2) {
  min-width: 104px;
  overflow-wrap: normal;
}
</style>
