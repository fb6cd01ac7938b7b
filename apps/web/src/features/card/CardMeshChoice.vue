<script setup lang="ts">
import { MESH_AXES, MESH_EXTENSIONS, MESH_UNITS, type PieceDoc } from '@lithe-sieve/core';
import { computed, ref, useTemplateRef } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import ListLine from '../../components/ListLine.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import FollowDialog from '../follow/FollowDialog.vue';
import FollowedFile from '../follow/FollowedFile.vue';
import CardPlacement from './CardPlacement.vue';
import { useFollowStore } from '../../stores/follow.store';
import { useClip, useEngine } from '../../stores/open-piece/open-piece';

/** A mesh of the user's own, which the piece lies on. */
const props = defineProps<{ doc: PieceDoc }>();
const { bringMesh, setMesh, leaveMesh } = useCardActions();
const clip = useClip();
const engine = useEngine();
const follow = useFollowStore();
const following = ref(false);
const chooser = useTemplateRef<HTMLInputElement>('chooser');

function bring(event: Event): void {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  if (file) void bringMesh(file);
  input.value = ''; // the same file can be chosen again
}

const mesh = computed(() => props.doc.mesh);
const facts = computed(() => (clip.mesh?.sha256 === mesh.value?.sha256 ? (clip.mesh?.facts ?? null) : null));
const unit = computed(() => MESH_UNITS.find((u) => u.metres === mesh.value?.metres)?.name ?? null);
const percent = (share: number) => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;
/** What of it a renderer shows otherwise than its maker may think. */
const doubts = computed(() => {
  const f = facts.value;
  if (!f) return [];
  const { mirrored, triangles } = f;
  return [
    mirrored > 0 && mirrored < triangles ? `${mirrored} triangles show the picture mirrored.` : '',
    mirrored === triangles ? 'Every triangle shows the picture mirrored.' : '',
    f.uvShared > 0.002
      ? `On ${percent(f.uvShared)} of the picture lie several triangles: what is done there shows on each.`
      : '',
    f.uvBeyond ? 'UVs lie beyond the picture: it shows there as its sides are wrapped.' : '',
    f.openSides > 0 ? `${f.openSides} edges have one triangle: borders or holes.` : '',
    f.withoutArea > 0 ? `${f.withoutArea} triangles have no area.` : '',
    f.withoutUvArea > f.withoutArea ? `${f.withoutUvArea} triangles have no area in the picture.` : '',
    ...f.notes,
  ].filter(Boolean);
});
/** Of the file, each once. */
const slots = computed(() => [...new Set((facts.value?.slots ?? []).map(({ name }) => name))]);
const ALL = 'all of them';
/** Texels per metre on it, in the mean. */
const density = computed(() => {
  const { area = 0, uvArea = 0 } = facts.value ?? {};
  const { width = 0, height = 0 } = engine.size ?? {};
  const metres = Math.sqrt(area) * (mesh.value?.metres ?? 1);
  return metres > 0 ? Math.round(Math.sqrt(uvArea * width * height) / metres) : 0;
});
/** Metres, as it stands. */
const size = computed(() => {
  const { metres = 1, up } = mesh.value ?? {};
  const [x, y, z] = (facts.value?.size ?? [0, 0, 0]).map((v) => (v * metres).toPrecision(3));
  return up === 'z' ? `${x} × ${z} × ${y} m` : `${x} × ${y} × ${z} m`;
});
</script>

<template>
  <input ref="chooser" type="file" :accept="MESH_EXTENSIONS.join()" hidden data-test="mesh-chooser" @change="bring" />
  <div class="line">
    <span>Mesh of your own</span>
    <ElButton size="small" data-test="choose-mesh" @click="chooser?.click()">
      {{ mesh ? 'Choose another…' : 'Choose a file…' }}
    </ElButton>
  </div>
  <p v-if="!mesh" class="soft hint">
    OBJ, GLB or glTF with UVs, chosen or dropped: the piece lies on it instead of on a card.
  </p>
  <template v-if="mesh">
    <p class="name" :title="mesh.fileName">{{ mesh.fileName }}</p>
    <FollowedFile v-if="mesh.follows" :path="mesh.follows" :sha256="mesh.sha256" same="Only places of it changed." />
    <p>
      <button v-if="mesh.follows" class="linked" @click="follow.unfollowMesh()">Stop following</button>
      <button v-else class="linked" data-test="follow-mesh" @click="following = true">Follow a file on disk…</button>
    </p>
    <FollowDialog v-model="following" of="meshes" :file-name="mesh.fileName" @choose="follow.followMesh" />
    <TroubleNote v-if="clip.meshFailure" :message="clip.meshFailure.message" :remedy="clip.meshFailure.remedy" />
    <button v-if="clip.meshFailure" class="linked" @click="clip.meshAgain()">Try again</button>
    <template v-if="facts">
      <ListLine
        label="Unit of the file"
        :value="unit"
        :options="MESH_UNITS.map(({ name }) => ({ value: name, label: name }))"
        data-test="mesh-unit"
        @choose="setMesh({ metres: MESH_UNITS.find((u) => u.name === $event)!.metres }, facts.size, `in ${$event}`)"
      />
      <ListLine
        label="Axis that points up"
        :value="mesh.up"
        :options="MESH_AXES.map((value) => ({ value, label: value }))"
        data-test="mesh-up"
        @choose="setMesh({ up: $event }, facts.size, `${$event} up`)"
      />
      <ListLine
        v-if="slots.length > 1"
        label="Shows the piece"
        spoken="Material of the file that shows the piece"
        :value="mesh.slot ?? ALL"
        :options="[ALL, ...slots].map((value) => ({ value, label: value }))"
        data-test="mesh-slot"
        @choose="setMesh({ slot: $event === ALL ? undefined : $event }, facts.size, `${$event} shows the piece`)"
      />
      <p class="soft hint" data-test="mesh-facts">
        {{ facts.triangles }} triangles, {{ size }}; {{ percent(facts.uvUsed) }} of the picture is used.
        {{ density }} texels per metre, in the mean.
      </p>
      <ul v-if="doubts.length > 0" class="soft doubts">
        <li v-for="doubt in doubts" :key="doubt">{{ doubt }}</li>
      </ul>
    </template>
    <CardPlacement v-if="facts" :doc="doc" />
    <p><button class="linked" data-test="leave-mesh" @click="leaveMesh()">Back to the card</button></p>
  </template>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 600;
}

.doubts {
  padding-left: 16px;
  margin: 0 0 12px;
}
</style>
