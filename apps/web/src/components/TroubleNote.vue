<script setup lang="ts">
/** What went wrong and what to do, in the form that all errors beside the work have. */
defineProps<{ message: string; remedy?: string; closable?: boolean; /** Not an error. */ calm?: boolean }>();
defineEmits<{ close: [] }>();
</script>

<template>
  <div class="trouble" :class="{ calm }" role="alert">
    <p>
      <strong>{{ message }}</strong> <span v-if="remedy">{{ remedy }}</span>
    </p>
    <button v-if="closable" type="button" aria-label="Dismiss" @click="$emit('close')">×</button>
  </div>
</template>

<style scoped>
.trouble {
  display: flex;
  gap: 8px;
  margin: 0 0 12px;
  padding: 6px 10px;
  border-left: 3px solid var(--red);
  background: var(--paper-high);
  font-size: 12.5px;
  line-height: 1.4;
}

.calm {
  border-color: var(--green);
}

p {
  flex: 1;
  margin: 0;
}

strong {
  font-weight: 600;
}

button {
  align-self: flex-start;
  padding: 0 4px;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font-size: 15px;
  line-height: 1.2;
  cursor: pointer;
}
</style>
