<script setup lang="ts" generic="T extends string | number">
/** A line of a tray: a label and a list to choose from. What else is given goes to the list. */
defineOptions({ inheritAttrs: false });
defineProps<{
  label: string;
  value: T | null;
  options: readonly { value: T; label: string }[];
  /** For those who hear it, where the label alone would not say it. */
  spoken?: string;
}>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <div class="line">
    <span>{{ label }}</span>
    <ElSelect
      v-bind="$attrs"
      :model-value="value"
      size="small"
      :aria-label="spoken ?? label"
      @change="emit('choose', $event as T)"
    >
      <ElOption v-for="o in options" :key="o.value" :value="o.value" :label="o.label" />
    </ElSelect>
  </div>
</template>
