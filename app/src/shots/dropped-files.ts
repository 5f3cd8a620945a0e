/** Files that were dropped, those in folders with their way in them: a `.gltf` asks for what lies beside it by such ways. */
export interface GivenFile {
  readonly file: File;
  /** From the folder that was dropped on; its name where it came alone. */
  readonly path: string;
}

export async function droppedFiles({ items, files }: DataTransfer): Promise<GivenFile[]> {
  // Asked for before the first wait: the list is empty afterwards.
  const entries = [...items].flatMap((item) => item.webkitGetAsEntry?.() ?? []);
  if (entries.length === 0) return [...files].map((file) => ({ file, path: file.name }));
  return (await Promise.all(entries.map(filesIn))).flat();
}

async function filesIn(entry: FileSystemEntry): Promise<GivenFile[]> {
  if (isFile(entry)) {
    const file = await new Promise<File>((resolve, reject) => entry.file(resolve, reject));
    return [{ file, path: entry.fullPath.replace(/^\//, '') }];
  }
  if (!isFolder(entry)) return [];
  const reader = entry.createReader();
  const found: FileSystemEntry[] = [];
  // A reader gives a part at each call, and nothing at the end.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (part.length === 0) break;
    found.push(...part);
  }
  return (await Promise.all(found.map(filesIn))).flat();
}

const isFile = (entry: FileSystemEntry): entry is FileSystemFileEntry => entry.isFile;
const isFolder = (entry: FileSystemEntry): entry is FileSystemDirectoryEntry => entry.isDirectory;
