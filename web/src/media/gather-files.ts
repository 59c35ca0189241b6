import { Zip, ZipPassThrough } from 'fflate';

/** One thing to send: a file as it is, or pictures packed into a zip. */
export interface Gathered {
  name: string;
  blob: Blob;
}

const PICTURE = /\.(png|jpe?g|tiff?|exr)$/i;

/** True for files that are numbered pictures, as in `shot.0001.png`. */
export function isNumberedPicture(name: string): boolean {
  return PICTURE.test(name) && /\d\.[^.]+$/.test(name);
}

/** Several numbered pictures become one sequence; anything else is sent file by file. `stills`: numbers are names only, and a missing one is no gap. */
export async function gather(files: readonly File[], folder?: string, stills = false): Promise<Gathered[]> {
  const seen = files.filter((f) => !f.name.startsWith('.'));
  const pictures = seen.filter((f) => isNumberedPicture(f.name));
  if (pictures.length < 2) return seen.map((file) => ({ name: file.name, blob: file }));
  const name = `${folder ?? pictures[0]!.name.replace(/[._-]?\d+\.[^.]+$/, '')}`;
  const others = seen.filter((f) => !pictures.includes(f)).map((file) => ({ name: file.name, blob: file as Blob }));
  return [
    {
      name: `${name || 'pictures'}.zip`,
      blob: await zipStored(
        pictures,
        stills
          ? (file, i) => `still.${String(i + 1).padStart(4, '0')}${/\.[^.]+$/.exec(file.name)![0]}`
          : (file) => file.name,
      ),
    },
    ...(folder === undefined ? others : []),
  ];
}

/** A zip of files as they are; pictures do not shrink. Chunks go into a Blob, so that the browser may keep them on disk. */
async function zipStored(files: readonly File[], nameOf: (file: File, i: number) => string): Promise<Blob> {
  const parts: Blob[] = [];
  const zip = new Zip((error, chunk) => {
    if (error) throw error;
    parts.push(new Blob([chunk]));
  });
  for (const [i, file] of files.entries()) {
    const entry = new ZipPassThrough(nameOf(file, i));
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  return new Blob(parts);
}

/** What was dropped: files, and for a folder its files with the folder's name. */
export async function gatherDropped(transfer: DataTransfer, stills = false): Promise<Gathered[]> {
  // Entries must be taken before the first await: the list is emptied when the event is over.
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  const loose: File[] = [];
  const out: Gathered[] = [];
  for (const entry of entries) {
    if (entry.isDirectory)
      out.push(...(await gather(await filesIn(entry as FileSystemDirectoryEntry), entry.name, stills)));
    else loose.push(await fileOf(entry as FileSystemFileEntry));
  }
  return [...out, ...(await gather(loose, undefined, stills))];
}

function fileOf(entry: FileSystemFileEntry): Promise<File> {
  return new Promise((resolve, reject) => entry.file(resolve, reject));
}

async function filesIn(folder: FileSystemDirectoryEntry): Promise<File[]> {
  const reader = folder.createReader();
  const files: File[] = [];
  for (;;) {
    // A reader hands over about a hundred entries at a time, then none.
    const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (batch.length === 0) return files;
    for (const entry of batch) if (entry.isFile) files.push(await fileOf(entry as FileSystemFileEntry));
  }
}
