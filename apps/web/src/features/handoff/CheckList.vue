<script setup lang="ts">
// What was looked at, folded up unless something failed.
import type { HandOffReport } from '@lithe-sieve/contract';
import { Check, X } from 'lucide-vue-next';
import { computed } from 'vue';

const props = defineProps<{ checks: HandOffReport['checks']; of?: string }>();

const failed = computed(() => props.checks.filter((c) => !c.ok).length);
const words = computed(() =>
  failed.value > 0 ? `${failed.value} of ${props.checks.length} checks failed` : `${props.checks.length} checks passed`,
);
</script>

<template>
  <details :open="failed > 0">
    <summary :class="{ bad: failed > 0 }">{{ of ? `${of}: ${words}` : words }}</summary>
    <table>
      <tbody>
        <tr v-for="(check, i) in checks" :key="i" :class="{ bad: !check.ok }">
          <td><Check v-if="check.ok" :size="13" aria-label="passed" /><X v-else :size="13" aria-label="failed" /></td>
          <td>{{ check.what }}</td>
          <td class="soft">{{ check.found }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
details {
  font-size: 12.5px;
}

summary {
  cursor: pointer;
}

table {
  width: 100%;
  margin-bottom: 10px;
  border-collapse: collapse;
}

td {
  padding: 4px 10px 4px 0;
  vertical-align: top;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}

td:nth-child(2) {
  min-width: 104px;
  overflow-wrap: normal;
}

.bad {
  color: var(--red);
}
</style>
