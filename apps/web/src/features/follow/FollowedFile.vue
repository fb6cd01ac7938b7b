<script setup lang="ts">
import { computed } from 'vue';
import { useFollowStore } from '../../stores/follow.store';

/** What is known of a file on disk that is followed. */
const props = defineProps<{
  path: string;
  /** Of the version that the piece has. */
  sha256: string;
  /** Said where a save changed nothing that is counted. */
  same: string;
}>();
const follow = useFollowStore();
const followed = computed(() => follow.of(props.path));
</script>

<template>
  <div class="followed" data-test="followed">
    <p>
      Follows <span class="path">{{ path }}</span>
    </p>
    <p v-if="followed.problem" class="warn">{{ followed.problem.message }} The last good version stays.</p>
    <p v-else-if="followed.at && followed.sha256 !== sha256" class="soft">Its last save was undone here.</p>
    <p v-else-if="followed.at" class="soft">
      Last saved and loaded at {{ followed.at.toLocaleTimeString() }}. {{ followed.changes.join(' ') || same }}
    </p>
    <p v-else class="soft">Every save in another program shows here.</p>
  </div>
</template>

<style scoped>
.followed {
  margin: 10px 0;
  padding-left: 8px;
  border-left: 2px solid var(--green);
}

.path {
  overflow-wrap: anywhere;
}

.warn {
  color: var(--amber);
  font-weight: 600;
}
</style>
