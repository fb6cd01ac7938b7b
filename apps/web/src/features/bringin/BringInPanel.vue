<script setup lang="ts">
import { useBenchStore } from '../../stores/bench.store';
import { useBringInStore } from '../../stores/bring-in.store';
import NamedGroups from './NamedGroups.vue';

const bringIn = useBringInStore();
const bench = useBenchStore();
</script>

<template>
  <section
    v-if="bringIn.arrivals.length > 0"
    class="panel"
    :class="{ beside: bench.open }"
    aria-label="Files being brought in"
    aria-live="polite"
  >
    <article v-for="a in bringIn.arrivals" :key="a.id" :class="{ failed: a.state === 'failed' }" data-test="arrival">
      <template v-if="a.state === 'failed'">
        <p><strong>Not brought in.</strong> {{ a.message }}</p>
        <p class="soft">{{ a.remedy }} The other files are not affected.</p>
        <ElButton size="small" text bg @click="bringIn.dismiss(a.id)">Dismiss</ElButton>
      </template>
      <template v-else>
        <p>
          {{ a.fileName }}
          <span class="soft">{{ a.state === 'reading' ? 'being read and checked' : 'uploading' }}</span>
        </p>
        <ElProgress
          :percentage="Math.round(a.progress * 100)"
          :indeterminate="a.state === 'reading'"
          :show-text="false"
        />
        <ElButton size="small" text bg @click="a.abort.abort()">Cancel</ElButton>
      </template>
    </article>
  </section>
  <NamedGroups v-if="bringIn.offer" :offer="bringIn.offer" />
</template>

<style scoped>
.panel {
  position: fixed;
  right: 16px;
  bottom: 16px;
  z-index: 1500;
  width: 340px;
  max-height: 60vh;
  overflow: auto;
  background: var(--paper-high);
  border: 1px solid var(--rule);
  border-radius: 6px;
  box-shadow: 0 6px 24px #0003;
}

/* Over the Stand: snags and settings stay in sight. */
.panel.beside {
  right: 288px;
  bottom: 238px;
}

article {
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 10px 14px;
  border-bottom: 1px solid var(--rule);
}

article:last-child {
  border-bottom: 0;
}

.failed {
  border-left: 3px solid var(--red);
}

.el-progress {
  width: 100%;
}
</style>
