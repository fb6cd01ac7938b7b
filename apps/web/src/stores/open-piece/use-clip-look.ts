import { onScopeDispose } from 'vue';
import type { ClipLook } from './clip-looks';
import { useClip } from './open-piece';

/** Has something of the clip computed as long as the component is there that shows it. */
export function useClipLook(look: ClipLook): void {
  const clip = useClip();
  clip.looksAsked[look] = true;
  onScopeDispose(() => (clip.looksAsked[look] = false));
}
