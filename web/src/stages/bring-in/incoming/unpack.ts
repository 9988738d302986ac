/** What is dropped, as single files: folders and ZIP files are walked through. */
import type { Entry as ZipEntry, FileEntry } from '@zip.js/zip.js';

/** Bytes of one unpacked file at most. */
const FILE_BYTES = 1 << 30;
/** Sounds of one ZIP file at most, and bytes of all that is unpacked of it. */
const ZIP_ENTRIES = 2000;
/** Entries of any kind: lists of them are walked through. */
const MOST_ENTRIES = 20_000;
const ZIP_BYTES = 4 * 2 ** 30;
/** How many times larger than packed a sound may be; silence packs well, but not like this. */
const RATIO = 250;
const SMALL_BYTES = 1 << 20;
const TOO_LARGE = 'too large';
const BRINGABLE = /\.(wav|wave|bwf|w64|rf64|aif|aiff|aifc|flac|mp3|ogg|oga|opus|mid|midi)$/i;

/** A file with the path it came under. */
export interface Entry {
  path: string;
  file: File;
}

/** A file that is had when its turn comes. */
export interface Item {
  path: string;
  /** Bytes, as far as they are known before. */
  bytes: number;
  load(signal: AbortSignal): Promise<File>;
}

/** What stands in a drop. */
export interface Listed {
  items: Item[];
  refused: { file: string; reason: string }[];
  /** Files that are no sound. */
  skipped: string[];
  /** Sounds that are out of sight where they come from, which may be meant. */
  hidden: string[];
  close(): Promise<void>;
}

const isZip = (path: string) => /\.zip$/i.test(path);
/** A path as a name: whatever it climbs to, nothing is written by it. */
export const nameOf = (path: string) =>
  path
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..')
    .join('/');
/** What systems leave in folders beside what people put there. */
const isLeftover = (path: string) =>
  nameOf(path)
    .split('/')
    .some((part) => part.startsWith('.') || part === '__MACOSX');

const isWorth = ({ path }: Entry) => !isLeftover(path) && (BRINGABLE.test(path) || isZip(path));

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

/** Takes bytes up to a limit, whatever the ZIP file promised. */
function bounded(limit: number): {
  stream: WritableStream<Uint8Array<ArrayBuffer>>;
  taken: Uint8Array<ArrayBuffer>[];
} {
  const taken: Uint8Array<ArrayBuffer>[] = [];
  let bytes = 0;
  const stream = new WritableStream<Uint8Array<ArrayBuffer>>({
    write(piece) {
      bytes += piece.byteLength;
      if (bytes > limit) throw new Error(TOO_LARGE);
      taken.push(piece);
    },
  });
  return { stream, taken };
}

/** Why a ZIP file cannot be read, without its reader's jargon. */
function unread(error: unknown): string {
  const words = error instanceof Error ? error.message : '';
  if (/encrypt|password/i.test(words)) return 'It is packed with a password. Pack it without one.';
  if (/unsupported|compression method/i.test(words))
    return 'It is packed in a way that is not read here. Pack it as an ordinary ZIP file.';
  return 'It is no ZIP file, or it is damaged or cut off. Pack it again.';
}

/** Why a file in it cannot be unpacked. */
function torn(error: unknown): Error {
  if (error instanceof DOMException && error.name === 'AbortError') return error;
  const words = error instanceof Error ? error.message : '';
  if (/encrypt|password/i.test(words)) return new Error('It is packed with a password. Pack it without one.');
  if (words === TOO_LARGE) return new Error('It unpacks to more than it says. Pack it again.');
  return new Error('It is damaged inside the ZIP file. Pack it again.');
}

/** How many files a ZIP file lists, whatever it counts (APPNOTE 4.3.12, 4.3.16); nothing where it is not known. */
async function listedIn(file: Blob): Promise<number | undefined> {
  const from = Math.max(0, file.size - (1 << 16) - 22);
  const tail = new DataView(await file.slice(from).arrayBuffer());
  let end = tail.byteLength - 22;
  while (end >= 0 && tail.getUint32(end, true) !== 0x06054b50) end -= 1;
  if (end < 0) return undefined;
  const at = tail.getUint32(end + 16, true);
  // Larger ones say it elsewhere, and right.
  if (at === 0xffffffff || tail.getUint16(end + 10, true) === 0xffff || at > from + end) return undefined;
  const list = new DataView(await file.slice(at, from + end).arrayBuffer());
  let count = 0;
  for (let place = 0; place + 46 <= list.byteLength && list.getUint32(place, true) === 0x02014b50; count += 1)
    place += 46 + [28, 30, 32].reduce((sum, of) => sum + list.getUint16(place + of, true), 0);
  return count;
}

/** Lists what is dropped, before anything of it is sent. */
export async function listed(entries: Entry[]): Promise<Listed> {
  const all: Listed = { items: [], refused: [], skipped: [], hidden: [], close: async () => undefined };
  const closers: (() => Promise<void>)[] = [];
  all.close = async () => void (await Promise.all(closers.map((close) => close())));
  for (const entry of entries) {
    if (!isZip(entry.path)) {
      all.items.push({ path: entry.path, bytes: entry.file.size, load: () => Promise.resolve(entry.file) });
      continue;
    }
    try {
      closers.push(await listZip(entry, all));
    } catch (error) {
      all.refused.push({ file: entry.path, reason: unread(error) });
    }
  }
  return all;
}

/** Why a ZIP file is not unpacked at all; nothing where it may be. */
function zipFault(zip: Entry, entries: ZipEntry[]): string | undefined {
  const files = entries.filter((e): e is FileEntry => !e.directory);
  const sounds = files.filter((e) => BRINGABLE.test(e.filename) && !isLeftover(e.filename));
  if (sounds.length > ZIP_ENTRIES || files.length > MOST_ENTRIES)
    return `It holds ${sounds.length > ZIP_ENTRIES ? `${sounds.length} sounds` : `${files.length} files`}; ${ZIP_ENTRIES} sounds are allowed. Drop a part of it.`;
  const packed = files.reduce((sum, e) => sum + e.compressedSize, 0);
  if (packed > zip.file.size) return 'Its files lie over each other. Pack it again.';
  const bytes = files.reduce((sum, e) => sum + e.uncompressedSize, 0);
  if (bytes > ZIP_BYTES) return `It unpacks to ${Math.ceil(bytes / 2 ** 20)} MiB; 4096 are allowed.`;
  return undefined;
}

async function listZip(zip: Entry, all: Listed): Promise<() => Promise<void>> {
  const { BlobReader, ZipReader, configure } = await import('@zip.js/zip.js');
  configure({ useWebWorkers: false });
  const reader = new ZipReader(new BlobReader(zip.file), { filenameValidation: 'tolerant' });
  const entries: ZipEntry[] = [];
  for await (const entry of reader.getEntriesGenerator()) {
    entries.push(entry);
    if (entries.length > MOST_ENTRIES) break;
  }
  const fault = zipFault(zip, entries);
  if (fault) {
    all.refused.push({ file: zip.path, reason: fault });
    return () => reader.close();
  }
  let sounds = 0;
  for (const inner of entries) {
    if (inner.directory) continue;
    const path = `${zip.path}/${nameOf(inner.filename)}`;
    if (isLeftover(inner.filename)) {
      // What systems put there is no matter.
      if (BRINGABLE.test(inner.filename) && !/__MACOSX/.test(inner.filename)) all.hidden.push(path);
      continue;
    }
    if (!BRINGABLE.test(inner.filename)) {
      all.skipped.push(path);
      continue;
    }
    sounds += 1;
    const bytes = inner.uncompressedSize;
    if (bytes > FILE_BYTES)
      all.refused.push({
        file: path,
        reason: 'It would unpack to more than 1 GiB. Cut it and drop the parts.',
      });
    else if (bytes > SMALL_BYTES && bytes > RATIO * inner.compressedSize)
      all.refused.push({
        file: path,
        reason: `It would unpack to ${RATIO} times its size and more. Pack it again.`,
      });
    else
      all.items.push({
        path,
        bytes,
        load: async (signal) => {
          const pieces = bounded(bytes);
          await inner.getData(pieces.stream, { signal, checkSignature: true }).catch((error: unknown) => {
            throw torn(error);
          });
          return new File(pieces.taken, inner.filename);
        },
      });
  }
  const listed = await listedIn(zip.file);
  if (listed !== undefined && listed > entries.length)
    all.refused.push({
      file: zip.path,
      reason: `It says that it holds ${entries.length} of the ${listed} files that it lists; the rest was left out. Pack it again.`,
    });
  if (sounds === 0) all.refused.push({ file: zip.path, reason: 'There is no sound and no MIDI file in it.' });
  return () => reader.close();
}
