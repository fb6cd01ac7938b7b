<script setup lang="ts">
import type { Job } from '@lithe-sieve/contract';
import { Check, Download, X } from 'lucide-vue-next';
import { fileAddress, zipAddress } from '../../api/handoffs.api';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';

defineProps<{
  job: Job | null;
  /** The piece has changed since. */
  outdated: boolean;
}>();
</script>

<template>
  <section class="report" aria-live="polite">
    <h2>Read back</h2>
    <template v-if="job?.report">
      <p class="verdict" :class="{ bad: !job.report.ok }" data-test="verdict">
        <Check v-if="job.report.ok" :size="17" /><X v-else :size="17" />
        {{ job.report.ok ? 'Every check passed' : 'Not every check passed' }}
      </p>
      <p v-if="outdated" class="soft">Of revision {{ job.report.revision }}: the piece has changed since.</p>
      <ul class="files">
        <li v-for="(file, i) in job.report.files" :key="file.name">
          <a :href="fileAddress(job.id, i)" download data-test="file"
            ><Download :size="13" /> <FileName :name="file.name"
          /></a>
          <span class="soft">{{ inMegabytes(file.bytes) }}</span>
        </li>
      </ul>
      <a class="zip" :href="zipAddress(job.id)" download data-test="zip"
        ><Download :size="14" /> All in one zip, with this report</a
      >
      <table class="checks">
        <tbody>
          <tr v-for="(check, i) in job.report.checks" :key="i" :class="{ bad: !check.ok }">
            <td><Check v-if="check.ok" :size="13" aria-label="passed" /><X v-else :size="13" aria-label="failed" /></td>
            <td>{{ check.what }}</td>
            <td class="soft">{{ check.found }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else class="soft">
      Every file is read again after it is written, and compared with the Bench texel for texel. The report appears
      here.
    </p>
  </section>
</template>

<style scoped>
section {
  padding: 20px 24px;
  overflow-y: auto;
}

h2 {
  margin-bottom: 14px;
  font-size: 16px;
  font-weight: 650;
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

.verdict {
  display: flex;
  gap: 7px;
  align-items: center;
  margin-bottom: 10px;
  font-size: 15px;
  font-weight: 650;
  color: var(--green);
}

.verdict.bad,
tr.bad {
  color: var(--red);
}

.files {
  margin: 0 0 8px;
  padding: 0;
  list-style: none;
}

.files li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  overflow-wrap: anywhere;
}

.files .soft {
  white-space: nowrap;
}

a {
  color: var(--green);
}

.zip {
  display: inline-block;
  margin-bottom: 14px;
}

.checks {
  font-size: 12.5px;
}

.checks td:nth-child(2) {
  min-width: 104px;
  overflow-wrap: normal;
}
</style>
