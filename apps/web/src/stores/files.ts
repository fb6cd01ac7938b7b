import { READABLE_EXTENSIONS } from '@lithe-sieve/core';

/** The files of a drop or of a file field. */
export function filesOf(list: FileList | null | undefined): File[] {
  return list ? Array.from(list) : [];
}

/** Asks for files as the browser does; none where it is dismissed. */
export function chooseFiles(accept: string, multiple = true): Promise<File[]> {
  const input = Object.assign(document.createElement('input'), { type: 'file', accept, multiple });
  return new Promise((resolve) => {
    input.addEventListener('change', () => resolve(filesOf(input.files)));
    input.addEventListener('cancel', () => resolve([]));
    input.click();
  });
}

/** The files of a drop; a folder brings the pictures in it, and in its folders. */
export async function filesOfDrop(transfer: DataTransfer | null): Promise<File[]> {
  const entries = Array.from(transfer?.items ?? [], (item) => item.webkitGetAsEntry());
  if (!entries.some((entry) => entry?.isDirectory)) return filesOf(transfer?.files);
  const nested = await Promise.all(entries.map((entry) => (entry ? filesOfEntry(entry, false) : Promise.resolve([]))));
  return nested.flat();
}

/** @param inFolder - Then only what is read here is taken: a folder holds other things too. */
async function filesOfEntry(entry: FileSystemEntry, inFolder: boolean): Promise<File[]> {
  if (isFile(entry)) {
    const wanted = !inFolder || READABLE_EXTENSIONS.some((e) => entry.name.toLowerCase().endsWith(e));
    if (!wanted) return [];
    const file = new Promise<File>((resolve, reject) => entry.file(resolve, reject));
    return file.then((f) => [f]).catch(() => []); // it vanished since the drop
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const out: File[] = [];
  for (;;) {
    // a reader gives a hundred at a time, and nothing when it is through
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return out;
    for (const each of some) out.push(...(await filesOfEntry(each, true)));
  }
}

function isFile(entry: FileSystemEntry): entry is FileSystemFileEntry {
  return entry.isFile;
}
