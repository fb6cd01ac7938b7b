<script setup lang="ts">
// What came of the checks, in a line, and all files in one.
import type { Job } from '@lithe-sieve/contract';
import { Check, Download, X } from 'lucide-vue-next';
import { computed } from 'vue';
import { zipAddress } from '../../api/handoffs.api';

const props = defineProps<{ job: Job; outdated: boolean }>();

const meant = computed(() => (props.job.report?.receivers ?? []).filter((r) => r.meant));
const agree = computed(() => meant.value.filter((r) => r.agrees).length);
</script>

<template>
  <div v-if="job.report" class="came" :class="{ outdated }">
    <p class="verdict" :class="{ bad: !job.report.ok }" role="status" data-test="verdict">
      <Check v-if="job.report.ok" :size="16" /><X v-else :size="16" />
      {{ job.report.ok ? 'Every check passed' : 'Not every check passed' }}
    </p>
    <p v-if="meant.length" class="verdict" :class="{ differs: agree < meant.length }" data-test="agree">
      {{ agree }} of {{ meant.length }} targets agree
    </p>
    <a :href="zipAddress(job.id)" download data-test="zip"
      ><Download :size="14" /> {{ outdated ? `Revision ${job.report.revision} in one zip` : 'All in one zip' }}</a
    >
  </div>
</template>

<style scoped>
.came {
  display: grid;
  gap: 1px;
  font-size: 12.5px;
  white-space: nowrap;
}

.verdict {
  display: flex;
  gap: 5px;
  align-items: center;
  font-weight: 650;
  color: var(--green);
}

.verdict.differs {
  padding-left: 6px;
  border-left: 3px solid var(--amber);
  color: var(--ink);
}

.verdict.bad {
  color: var(--red);
}

.outdated .verdict {
  opacity: 0.75;
}

a {
  color: var(--green);
}
</style>
