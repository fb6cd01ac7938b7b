<script setup lang="ts">
import { STAND_LIGHT_RANGES, TONES } from '@lithe-sieve/core';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { coloursOf, ENVIRONMENT_LIGHTS, ENVIRONMENT_NAMES, ENVIRONMENTS } from '../../drawing/lit/environments';
import BehindChoice from './BehindChoice.vue';
import { theStage } from '../stage/stage';
import { useBenchStore } from '../../stores/bench.store';

/** How the card is lit on the Stand. */
const bench = useBenchStore();

const NUMBERS = {
  height: { label: 'Sun, height', hint: 'Degrees above the horizon.', unit: 'degrees' },
  turn: { label: 'Sun, turn', hint: 'Degrees to the right of the card’s front; near 180 it shines from behind.', unit: 'degrees' }, // prettier-ignore
  strength: { label: 'Sun, strength', hint: 'Times as strong as the sky has it; 0: the sky alone lights.', unit: '' },
  warmth: { label: 'Sun, warmth', hint: 'Low is red, as at dusk, or a lamp; high is blue.', unit: 'kelvin' },
  size: { label: 'Sun, size', hint: 'Degrees from side to side: the larger, the softer its shadows, which show at rest. The real sun has half a degree.', unit: 'degrees' }, // prettier-ignore
  exposure: { label: 'Exposure', hint: 'Stops: one more is twice as bright.', unit: 'stops' },
} as const;

const WORDS = { neutral: 'neutral', none: 'none: cut off at white' } as const;
/** The turn at which the sun shines towards the camera. */
function behind(): number {
  const turn = Math.round((theStage().standAt.azimuth * 180) / Math.PI) % 360;
  return ((turn + 720) % 360) - 180;
}
const hex = (colour: number) => `#${colour.toString(16).padStart(6, '0')}`;
const swatches = ENVIRONMENT_NAMES.map((name) => {
  const { sky, ground } = coloursOf(ENVIRONMENTS[name]);
  return { name, background: `linear-gradient(${hex(sky[0])}, ${hex(sky[1])} 62%, ${hex(ground)} 62%)` };
});
</script>

<template>
  <h2>Light</h2>
  <p class="soft hint">Drag the sun on the Stand. Nothing of the light is handed off.</p>
  <div class="skies" role="radiogroup" aria-label="Sky">
    <button
      v-for="{ name, background } in swatches"
      :key="name"
      role="radio"
      :aria-checked="bench.backdrop === name"
      :data-test="`sky-${name}`"
      @click="bench.backdrop = name"
    >
      <i :style="{ background }" />{{ name }}
    </button>
  </div>
  <BehindChoice />
  <NumberSlider
    v-for="(words, name) in NUMBERS"
    :key="name"
    v-bind="{ ...words, ...STAND_LIGHT_RANGES[name] }"
    :model-value="bench.light[name]"
    @preview="bench.setLight({ [name]: $event })"
    @commit="bench.setLight({ [name]: $event })"
  />
  <ListLine
    label="Tone curve"
    :value="bench.light.tone"
    :options="TONES.map((value) => ({ value, label: WORDS[value] }))"
    data-test="tone"
    @choose="bench.setLight({ tone: $event })"
  />
  <p class="links">
    <button
      class="linked"
      data-test="light-behind"
      @click="bench.setLight({ turn: behind(), height: Math.min(50, bench.light.height) })"
    >
      From behind the card
    </button>
    <button class="linked" data-test="light-first" @click="bench.setLight(ENVIRONMENT_LIGHTS[bench.backdrop])">
      As this sky is lit at first
    </button>
  </p>
</template>

<style scoped>
.links {
  display: grid;
  justify-items: start;
  gap: 4px;
  margin-top: 10px;
}

.hint {
  margin-bottom: 10px;
}

.skies {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
  margin-bottom: 12px;
}

.skies button {
  display: grid;
  gap: 3px;
  padding: 3px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: inherit;
  font: inherit;
  font-size: 0.85em;
  cursor: pointer;
}

.skies button[aria-checked='true'] {
  border-color: var(--green);
  font-weight: 600;
}

.skies i {
  height: 34px;
  border-radius: 3px;
}
</style>
