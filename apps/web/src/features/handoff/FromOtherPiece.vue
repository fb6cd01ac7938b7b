<script setup lang="ts">
// A map of another piece for the channels of a packed file: it fills a slot of this one, and is among its maps from then on.
import { MAP_NAMES, mapKind, type MapName } from '@lithe-sieve/core';
import { ref } from 'vue';
import { SLOT_ROWS } from '../../actions/slot-actions';
import ListLine from '../../components/ListLine.vue';
import { useTakeOfPiece } from '../slots/take-of-piece';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';

const takeOfPiece = useTakeOfPiece();
/** One channel each, as a channel of a file holds it. */
const SLOTS = SLOT_ROWS.filter(({ map }) => map !== 'mask' && mapKind(map).channels === 1);
const wanted = ref<MapName>('height');
const as = ref<MapName>(SLOTS[0].map);
const MAPS = MAP_NAMES.map((value) => ({ value, label: mapKind(value).label }));
const AS = SLOTS.map(({ map, label }) => ({ value: map, label: label.toLowerCase() }));
</script>

<template>
  <details data-test="from-other-piece">
    <summary class="soft">A map of another piece</summary>
    <ListLine label="Take the" :value="wanted" :options="MAPS" data-test="other-map" @choose="wanted = $event" />
    <ListLine
      label="as"
      spoken="as which map of this piece"
      :value="as"
      :options="AS"
      data-test="other-as"
      @choose="as = $event"
    />
    <OtherPieceChoice
      label="of"
      beside
      said="Piece whose map is taken"
      test="other-piece"
      shown=""
      :use="
        (other) =>
          takeOfPiece(
            SLOTS.find((row) => row.map === as)!,
            wanted,
            other,
          )
      "
    />
  </details>
</template>

<style scoped>
details {
  margin: 4px 0 10px;
  font-size: 12.5px;
}

summary {
  cursor: pointer;
}
</style>
