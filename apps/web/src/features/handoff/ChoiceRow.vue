<script setup lang="ts" generic="T extends string">
/** A label above some values, of which one is pressed. What else is given goes to the values. */
defineOptions({ inheritAttrs: false });
defineProps<{ label: string; value: T; options: readonly { value: T; label: string }[]; hint?: string }>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <div class="row">
    <span>{{ label }}</span>
    <ElSegmented
      v-bind="$attrs"
      :model-value="value"
      :options="[...options]"
      :aria-label="label"
      @change="emit('choose', $event as T)"
    />
    <span v-if="hint" class="soft">{{ hint }}</span>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  gap: 4px;
  margin-top: 12px;
}
</style>
