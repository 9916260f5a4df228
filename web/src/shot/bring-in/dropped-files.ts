import type { Dropped } from './add-files.ts';

const local = (path: string, file: File): Dropped => ({ path, size: file.size, from: file });

/** Files under a dropped entry, folders and all. */
async function filesUnder(entry: FileSystemEntry, folder: string): Promise<Dropped[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) =>
      (entry as FileSystemFileEntry).file(resolve, reject),
    );
    return [local(folder + entry.name, file)];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: Dropped[] = [];
  // A reader hands out some at a time, and none when it is through.
  for (;;) {
    const entries = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (entries.length === 0) return found;
    for (const e of entries) found.push(...(await filesUnder(e, `${folder}${entry.name}/`)));
  }
}

/** What was dropped: files, and all files of folders. Must be called while the event is handled. */
export async function droppedFiles(data: DataTransfer): Promise<Dropped[]> {
  const entries = [...data.items].map((item) => item.webkitGetAsEntry?.() ?? undefined);
  if (entries.some((e) => e?.isDirectory))
    return (await Promise.all(entries.flatMap((e) => (e ? [filesUnder(e, '')] : [])))).flat();
  return [...data.files].map((file) => local(file.name, file));
}

/** What was chosen in a dialog. */
export const chosenFiles = (files: FileList | null): Dropped[] =>
  [...(files ?? [])].map((file) => local(file.webkitRelativePath || file.name, file));
