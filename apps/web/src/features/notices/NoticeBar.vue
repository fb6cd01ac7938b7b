<script setup lang="ts">
import { computed } from 'vue';
import { useNoticesStore, type Notice } from '../../stores/notices.store';
import { usePiece } from '../../stores/open-piece/open-piece';
import { useSavingStore } from '../../stores/saving.store';

/** What must be seen wherever one is: changes that do not go through, and what else stays until it is put away. */
const notices = useNoticesStore();
const saving = useSavingStore();
const piece = usePiece();

/** What says “this piece” is not shown over another one. */
const shown = computed(() => notices.all.filter(({ about }) => !about || !piece.id || about.pieceId === piece.id));
/** Where no piece is open, which one it is. */
const whose = ({ about }: Notice) => (about && !piece.id ? `“${about.name || 'Untitled piece'}”: ` : '');
const stuck = computed(() => (saving.state.kind === 'waiting' ? saving.state : null));
const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
function act({ id, action }: Notice): void {
  notices.dismiss(id);
  action?.run();
}
const changes = (count: number) => (count === 1 ? '1 change waits here' : `${count} changes wait here`);
</script>

<template>
  <div class="notices" role="alert">
    <div v-if="stuck" class="notice bad" data-test="not-saved">
      <p>
        <b>Not saved: {{ changes(stuck.count) }}</b> since {{ clock.format(stuck.since) }}. {{ stuck.why }}
        {{ stuck.remedy }}
      </p>
      <span class="does">
        <button type="button" data-test="try-now" @click="saving.tryNow()">Try now</button>
        <button type="button" data-test="keep-as-copy" @click="saving.keepAsCopies()">Keep as a separate piece</button>
      </span>
    </div>
    <div v-for="n in shown" :key="n.id" class="notice" :class="{ bad: n.bad }" data-test="notice">
      <p>
        {{ whose(n) }}{{ n.text }} {{ n.remedy }}
        <RouterLink v-if="n.link" :to="`/bench/${n.link.pieceId}`" @click="notices.dismiss(n.id)">{{
          n.link.label
        }}</RouterLink><template v-if="n.link">.</template>
      </p>
      <span class="does"
        ><button v-if="n.action" type="button" data-test="notice-action" @click="act(n)">{{ n.action.label }}</button
        ><button type="button" aria-label="Dismiss this notice" @click="notices.dismiss(n.id)">Dismiss</button></span
      >
    </div>
  </div>
</template>

<style scoped>
.notices:not(:empty) {
  max-height: 40vh;
  overflow-y: auto;
}

.notice {
  display: flex;
  gap: 16px;
  align-items: baseline;
  justify-content: space-between;
  padding: 7px 16px;
  border-bottom: 1px solid var(--rule);
  border-left: 4px solid var(--amber);
  background: var(--paper-deep);
}

.notice.bad {
  border-left-color: var(--red);
}

.notice p {
  margin: 0;
}

.notice a {
  color: var(--green);
  font-weight: 600;
}

.does {
  display: flex;
  gap: 14px;
  white-space: nowrap;
}

.does button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  font-weight: 600;
  cursor: pointer;
}

.does button:hover {
  text-decoration: underline;
}
</style>
