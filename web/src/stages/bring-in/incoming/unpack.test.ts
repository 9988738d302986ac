import { crc32, deflateRawSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { listed, nameOf, type Entry } from './unpack';

/** A ZIP file with any names (APPNOTE 6.3), stored, or deflated where it is asked for. */
function zip(files: Record<string, string | Uint8Array>, deflate = false): Entry {
  const bodies: Buffer[] = [];
  const table: Buffer[] = [];
  let at = 0;
  for (const [name, content] of Object.entries(files)) {
    const plain = Buffer.from(content as string);
    const packed = deflate ? deflateRawSync(plain) : plain;
    const about = Buffer.alloc(26);
    about.writeUInt16LE(20, 0);
    about.writeUInt16LE(0x800, 2);
    about.writeUInt16LE(deflate ? 8 : 0, 4);
    about.writeUInt32LE(crc32(plain), 10);
    about.writeUInt32LE(packed.length, 14);
    about.writeUInt32LE(plain.length, 18);
    about.writeUInt16LE(Buffer.byteLength(name), 22);
    const place = Buffer.alloc(14);
    place.writeUInt32LE(at, 10);
    const body = Buffer.concat([Buffer.from('PK\x03\x04'), about, Buffer.from(name), packed]);
    table.push(Buffer.concat([Buffer.from('PK\x01\x02\x14\0'), about, place, Buffer.from(name)]));
    bodies.push(body);
    at += body.length;
  }
  const names = Buffer.concat(table);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06');
  end.writeUInt16LE(table.length, 8);
  end.writeUInt16LE(table.length, 10);
  end.writeUInt32LE(names.length, 12);
  end.writeUInt32LE(at, 16);
  const bytes = new Uint8Array(Buffer.concat([...bodies, names, end]));
  return { path: 'kit.zip', file: new File([bytes], 'kit.zip') };
}

const never = new AbortController().signal;

describe('paths', () => {
  test.each([
    ['kit/kick.wav', 'kit/kick.wav'],
    ['/etc/kick.wav', 'etc/kick.wav'],
    ['../../kick.wav', 'kick.wav'],
    ['./kick.wav', 'kick.wav'],
    ['c\\kit\\..\\kick.wav', 'c/kit/kick.wav'],
  ])('%s is only a name', (path, name) => expect(nameOf(path)).toBe(name));
});

describe('a ZIP file', () => {
  test('gives its sounds whatever their paths climb to, without litter, and tells what it passes over', async () => {
    const list = await listed([
      zip({
        '../kick.wav': 'abc',
        './snare.wav': 'de',
        '/abs/hat.wav': 'f',
        '__MACOSX/kick.wav': 'x',
        'kit/.hidden.wav': 'x',
        'kit/readme.txt': 'x',
      }),
    ]);
    expect(list.items.map((i) => i.path)).toEqual([
      'kit.zip/kick.wav',
      'kit.zip/snare.wav',
      'kit.zip/abs/hat.wav',
    ]);
    expect(list.skipped).toEqual(['kit.zip/kit/readme.txt']);
    // A sound that is out of sight may be meant; what systems put there is no matter.
    expect(list.hidden).toEqual(['kit.zip/kit/.hidden.wav']);
    const file = await list.items[0]?.load(never);
    expect(await file?.text()).toBe('abc');
    await list.close();
  });

  test('without a sound says so, and one that is none too; others go on', async () => {
    const torn = { path: 'torn.zip', file: new File(['PK no'], 'torn.zip') };
    const sound = { path: 'kick.wav', file: new File(['abc'], 'kick.wav') };
    const list = await listed([zip({ 'a.txt': 'x' }), torn, sound]);
    expect(list.refused.map((r) => r.file)).toEqual(['kit.zip', 'torn.zip']);
    expect(list.items.map((i) => i.path)).toEqual(['kick.wav']);
    await list.close();
  });

  test('with too many files is refused at once', async () => {
    const many = Object.fromEntries(Array.from({ length: 2001 }, (_, n) => [`${n}.wav`, '']));
    const list = await listed([zip(many)]);
    expect(list.items).toEqual([]);
    expect(list.refused[0]?.reason).toContain('2001 sounds; 2000 sounds are allowed');
    await list.close();
  });

  test('may hold many texts beside its sounds', async () => {
    const texts = Object.fromEntries(Array.from({ length: 2100 }, (_, n) => [`${n}.txt`, '']));
    const list = await listed([zip({ ...texts, 'kick.wav': 'abc' })]);
    expect(list.items.map((i) => i.path)).toEqual(['kit.zip/kick.wav']);
    expect(list.refused).toEqual([]);
    await list.close();
  });

  test('that counts fewer files than it lists says so', async () => {
    const { file } = zip({ 'kick.wav': 'abc', 'snare.wav': 'de', 'hat.wav': 'f' });
    const bytes = new Uint8Array(await file.arrayBuffer());
    const end = bytes.length - 22;
    [bytes[end + 8], bytes[end + 10]] = [2, 2];
    const list = await listed([{ path: 'kit.zip', file: new File([bytes], 'kit.zip') }]);
    expect(list.items).toHaveLength(2);
    expect(list.refused[0]?.reason).toMatch(/^It says that it holds 2 of the 3 files that it lists/);
    await list.close();
  });

  test('that is damaged says so in plain words', async () => {
    const { file } = zip({ 'kick.wav': 'a sound of some length' });
    const bytes = new Uint8Array(await file.arrayBuffer());
    bytes[45] = (bytes[45] ?? 0) ^ 0xff;
    const list = await listed([{ path: 'kit.zip', file: new File([bytes], 'kit.zip') }]);
    await expect(list.items[0]?.load(never)).rejects.toThrow(
      'It is damaged inside the ZIP file. Pack it again.',
    );
    await list.close();
    const none = await listed([{ path: 'kit.zip', file: new File(['no zip'], 'kit.zip') }]);
    expect(none.refused[0]?.reason).toBe('It is no ZIP file, or it is damaged or cut off. Pack it again.');
  });

  test('that unpacks to far more than it holds is refused before it is unpacked', async () => {
    const list = await listed([zip({ 'bomb.wav': new Uint8Array(3 << 20), 'kick.wav': 'abc' }, true)]);
    expect(list.refused).toEqual([
      { file: 'kit.zip/bomb.wav', reason: expect.stringContaining('250 times') as string },
    ]);
    expect(list.items.map((i) => i.path)).toEqual(['kit.zip/kick.wav']);
    await list.close();
  });
});
