/** What is dropped, as single files: folders and ZIP files are walked through. */

/** Bytes of one unpacked file at most. */
const FILE_BYTES = 1 << 30;
/** Files of one ZIP file at most. */
const ZIP_FILES = 512;
const BRINGABLE = /\.(wav|wave|bwf|w64|rf64|aif|aiff|aifc|flac|mp3|ogg|oga|mid|midi)$/i;

/** A file with the path it came under. */
export interface Entry {
  path: string;
  file: File;
}

export type Unpacked = Entry | { path: string; reason: string };

const isZip = (entry: Entry) => /\.zip$/i.test(entry.path);
/** What systems leave in folders beside what people put there. */
const isLeftover = (path: string) =>
  path.split('/').some((part) => part.startsWith('.') || part === '__MACOSX');

const isWorth = (entry: Entry) => !isLeftover(entry.path) && (BRINGABLE.test(entry.path) || isZip(entry));

/** Files of a folder that was chosen, without what is no sound. */
export const chosenFolder = (files: Iterable<File>): Entry[] =>
  [...files].map((file) => ({ path: file.webkitRelativePath || file.name, file })).filter(isWorth);

/** The files of a drop, with those in folders. */
export async function dropped(data: DataTransfer): Promise<Entry[]> {
  // Both lists are gone once the event is over, so they are read at once.
  const roots = [...data.items].map((item) => item.webkitGetAsEntry?.() ?? null);
  const files = [...data.files];
  if (!roots.some((root) => root?.isDirectory)) return files.map((file) => ({ path: file.name, file }));
  const found: Entry[] = [];
  for (const root of roots) if (root) await walk(root, found);
  return found;
}

async function walk(entry: FileSystemEntry, found: Entry[]): Promise<void> {
  const path = entry.fullPath.replace(/^\//, '');
  if (isLeftover(path)) return;
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) =>
      (entry as FileSystemFileEntry).file(resolve, reject),
    );
    if (isWorth({ path, file })) found.push({ path, file });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (some.length === 0) return;
    for (const inner of some) await walk(inner, found);
  }
}

/** Takes bytes up to the limit, whatever the ZIP file promised. */
function bounded(): { stream: WritableStream<Uint8Array<ArrayBuffer>>; taken: Uint8Array<ArrayBuffer>[] } {
  const taken: Uint8Array<ArrayBuffer>[] = [];
  let bytes = 0;
  const stream = new WritableStream<Uint8Array<ArrayBuffer>>({
    write(piece) {
      bytes += piece.byteLength;
      if (bytes > FILE_BYTES) throw new Error('it unpacks to more than 1 GiB');
      taken.push(piece);
    },
  });
  return { stream, taken };
}

/** A file, or the files in it where it is a ZIP file. Paths in it are names only: nothing is written by them. */
export async function* unpacked(entry: Entry, signal: AbortSignal): AsyncGenerator<Unpacked> {
  if (!isZip(entry)) {
    yield entry;
    return;
  }
  const { BlobReader, ZipReader, configure } = await import('@zip.js/zip.js');
  configure({ useWebWorkers: false });
  const zip = new ZipReader(new BlobReader(entry.file));
  let count = 0;
  try {
    for await (const inner of zip.getEntriesGenerator()) {
      const path = `${entry.path}/${inner.filename}`;
      if (inner.directory || isLeftover(inner.filename.replaceAll('\\', '/'))) continue;
      if (!BRINGABLE.test(inner.filename)) continue;
      count += 1;
      if (count > ZIP_FILES) {
        yield { path, reason: `A ZIP file may hold ${ZIP_FILES} sounds; put the rest into another.` };
        return;
      }
      if (inner.uncompressedSize > FILE_BYTES) {
        yield { path, reason: 'It would unpack to more than 1 GiB. Cut it and drop the parts.' };
        continue;
      }
      try {
        const pieces = bounded();
        await inner.getData(pieces.stream, { signal, checkSignature: true });
        yield { path, file: new File(pieces.taken, inner.filename) };
      } catch (error) {
        if (signal.aborted) return;
        yield { path, reason: `It cannot be unpacked: ${error instanceof Error ? error.message : error}.` };
      }
    }
    if (count === 0) yield { path: entry.path, reason: 'There is no sound and no MIDI file in it.' };
  } catch (error) {
    yield { path: entry.path, reason: `It is not a ZIP file that can be read: ${(error as Error).message}.` };
  } finally {
    await zip.close();
  }
}
