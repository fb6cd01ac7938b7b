<script setup lang="ts">
import PlainDialog from '../../components/PlainDialog.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import type { FolderList, Followable, Folders } from '@lithe-sieve/contract';
import { ref, shallowRef, watch } from 'vue';
import { addFolder, listFolders, lookInFolder, removeFolder } from '../../api/folders.api';
import { ApiError } from '../../api/http';

const props = withDefaults(
  defineProps<{
    fileName: string;
    of?: Followable;
    /** A folder is chosen that a piece is handed off to, not a file. */
    forOutput?: boolean;
  }>(),
  { of: 'pictures', forOutput: false },
);
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ choose: [path: string] }>();

const folders = shallowRef<Folders>({ folders: [], mayAdd: true });
const inside = shallowRef<FolderList | null>(null);
const typed = ref('');
const trouble = ref('');

async function tried(work: () => Promise<void>): Promise<void> {
  trouble.value = '';
  await work().catch((error: unknown) => {
    trouble.value = error instanceof ApiError ? `${error.message} ${error.remedy}` : String(error);
  });
}

watch(open, (now) => {
  if (!now) return;
  inside.value = null;
  void tried(async () => {
    folders.value = await listFolders();
    if (folders.value.folders.length === 1) inside.value = await lookIn(folders.value.folders[0]);
  });
});

const lookIn = (path: string) => lookInFolder(path, props.of);
const look = (path: string) => tried(async () => void (inside.value = await lookIn(path)));
const allow = () =>
  tried(async () => {
    folders.value = await addFolder(typed.value.trim());
    const path = typed.value.trim();
    typed.value = '';
    inside.value = await lookIn(path);
  });
const forget = (path: string) =>
  tried(async () => {
    folders.value = await removeFolder(path);
    if (inside.value?.path.startsWith(path)) inside.value = null;
  });

function choose(path: string): void {
  emit('choose', path);
  open.value = false;
}

const lastPart = (path: string) => path.split(/[\\/]/).filter(Boolean).pop() ?? path;
const when = (iso: string) => new Date(iso).toLocaleString(undefined, { dateStyle: 'short', timeStyle: 'short' });
</script>

<template>
  <PlainDialog
    v-model="open"
    :title="forOutput ? 'Keep a folder current' : 'Follow a file on disk'"
    width="560px"
    append-to-body
  >
    <p v-if="forOutput" class="soft">
      Each time your edits settle, the files are written into the folder again, all of them or none. Files of others are
      never replaced.
    </p>
    <p v-else class="soft">
      Each time another program saves the file, it updates here. Only folders you allow are read.
    </p>
    <ul class="folders">
      <li v-for="path in folders.folders" :key="path">
        <button class="link" @click="look(path)">{{ path }}</button>
        <ElButton v-if="folders.mayAdd" size="small" link :aria-label="`No longer allow ${path}`" @click="forget(path)"
          >No longer allow</ElButton
        >
      </li>
    </ul>
    <form v-if="folders.mayAdd" class="add" @submit.prevent="allow">
      <ElInput v-model="typed" placeholder="/home/me/textures" aria-label="Folder to allow" data-test="folder" />
      <ElButton native-type="submit" :disabled="!typed.trim()" data-test="allow">Allow this folder</ElButton>
    </form>
    <p v-else class="soft">This server answers other machines too: allow folders by starting it with --folder.</p>
    <TroubleNote v-if="trouble" :message="trouble" />
    <template v-if="inside">
      <h3>{{ inside.path }}</h3>
      <ElButton v-if="forOutput" type="primary" size="small" data-test="take-folder" @click="choose(inside.path)">
        Keep this folder current
      </ElButton>
      <ul class="files">
        <li v-for="path in inside.folders" :key="path">
          <button class="link" @click="look(path)">{{ lastPart(path) }}/</button>
        </li>
        <li
          v-for="file in forOutput ? [] : inside.files"
          :key="file.path"
          :class="{ same: file.name === props.fileName }"
        >
          <button class="link" data-test="follow-file" @click="choose(file.path)">{{ file.name }}</button>
          <span class="soft">{{ Math.ceil(file.bytes / 1024) }} KB, {{ when(file.modifiedAt) }}</span>
        </li>
      </ul>
      <p v-if="!forOutput && inside.files.length === 0 && inside.folders.length === 0" class="soft">
        No {{ props.of }} in this folder.
      </p>
    </template>
    <p v-else-if="folders.folders.length === 0" class="soft">
      Type the folder{{ forOutput ? '' : ' in which the file is saved' }}.
    </p>
  </PlainDialog>
</template>

<style scoped>
.folders,
.files {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}

.files {
  max-height: 260px;
  overflow: auto;
  border: 1px solid var(--rule);
}

li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 3px 8px;
}

.same {
  font-weight: 600;
}

.add {
  display: flex;
  gap: 8px;
}

h3 {
  margin: 12px 0 4px;
  overflow-wrap: anywhere;
}

.link {
  padding: 2px 0;
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  text-align: left;
  cursor: pointer;
  overflow-wrap: anywhere;
}

.link:hover {
  text-decoration: underline;
}
</style>
