import { describe, expect, test } from 'vitest';
import { bundled, foreign, linked, versionOf, written, type CargoMetadata } from './licences';

const crate = (name: string, source: string | null = 'registry') => ({
  id: name,
  name,
  version: '1.0.0',
  license: 'MIT',
  manifest_path: `/x/${name}/Cargo.toml`,
  source,
});
const dep = (pkg: string, ...kinds: (string | null)[]) => ({
  pkg,
  dep_kinds: kinds.map((kind) => ({ kind })),
});

describe('what ships', () => {
  const metadata: CargoMetadata = {
    packages: [
      crate('program', null),
      crate('core', null),
      ...['used', 'deep', 'tested', 'built', 'apart'].map((n) => crate(n)),
    ],
    resolve: {
      nodes: [
        { id: 'program', deps: [dep('core', null), dep('tested', 'dev'), dep('built', 'build')] },
        { id: 'core', deps: [dep('used', 'dev', null)] },
        { id: 'used', deps: [dep('deep', null), dep('used', null)] },
        { id: 'tested', deps: [dep('apart', null)] },
      ],
    },
  };

  test('is what is linked, not what tests or builds need, nor our own', () => {
    expect(linked(metadata, ['program']).map((p) => p.name)).toEqual(['used', 'deep']);
  });

  test('is what is bundled, each package as the tree finds it', () => {
    const lock = {
      packages: {
        '': { dependencies: { a: '1' } },
        'node_modules/a': { dependencies: { b: '1', c: '1' } },
        'node_modules/a/node_modules/b': { dependencies: { c: '1' } },
        'node_modules/b': {},
        'node_modules/c': { dependencies: { a: '1' } },
        'node_modules/unused': {},
      },
    };
    expect(bundled(lock, ['a'])).toEqual([
      'node_modules/a',
      'node_modules/a/node_modules/b',
      'node_modules/c',
    ]);
  });

  test('is written once a text, whoever brings it', () => {
    const one = (name: string, texts: string[]) => ({ name, version: '2.0', licence: 'MIT', texts });
    const text = written('Lane 1', [one('a', ['Same.\r\n']), one('b', ['Same.', 'Other.'])]);
    expect(text).toContain('a 2.0: MIT\nb 2.0: MIT');
    expect(text.match(/Same\./g)).toHaveLength(1);
    expect(text).toContain('a 2.0, b 2.0\n\nSame.');
    expect(text).toContain('b 2.0\n\nOther.');
  });

  test.each([
    ['GPL-3.0-or-later', true],
    ['AGPL-3.0', true],
    ['MIT OR GPL-2.0', false],
    ['MPL-2.0', false],
    ['(MIT OR Apache-2.0) AND Unicode-3.0', false],
  ])('%s cannot ship: %s', (licence, refused) => {
    expect(foreign([{ name: 'a', version: '1', licence, texts: [] }])).toHaveLength(refused ? 1 : 0);
  });

  test('the version is the workspace’s', () => {
    expect(versionOf('[workspace.package]\nversion = "0.3.1"\n[x]\ny = { version = "9" }\n')).toBe('0.3.1');
  });
});
