import { onMounted, type Ref } from 'vue';

/** A canvas whose graphics were lost comes back empty: draws it again then. */
export function redrawWhenRestored(canvas: Readonly<Ref<HTMLCanvasElement | null>>, draw: () => void): void {
  onMounted(() => canvas.value?.addEventListener('contextrestored', draw));
}
