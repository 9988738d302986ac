/** What ships with the program, and under which licences: read from the lock files and the packages themselves. */
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Plugin } from 'vite';

export interface Shipped {
  name: string;
  version: string;
  /** As its package says it, in SPDX where it does. */
  licence: string;
  /** The texts that lie in the package. */
  texts: string[];
}

export interface CargoMetadata {
  packages: {
    id: string;
    name: string;
    version: string;
    license: string | null;
    manifest_path: string;
    source: string | null;
  }[];
  resolve: { nodes: { id: string; deps: { pkg: string; dep_kinds: { kind: string | null }[] }[] }[] };
}

/** Packages that are linked into one of `roots`: neither for tests nor for the build alone. */
export function linked(metadata: CargoMetadata, roots: string[]): CargoMetadata['packages'] {
  const nodes = new Map(metadata.resolve.nodes.map((node) => [node.id, node]));
  const open = metadata.packages.filter((p) => roots.includes(p.name)).map((p) => p.id);
  const seen = new Set(open);
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    for (const { pkg, dep_kinds } of nodes.get(id)?.deps ?? []) {
      if (seen.has(pkg) || !dep_kinds.some((d) => d.kind === null)) continue;
      seen.add(pkg);
      open.push(pkg);
    }
  }
  return metadata.packages.filter((p) => seen.has(p.id) && p.source !== null);
}

interface Lock {
  packages: Record<string, { version?: string; license?: string; dependencies?: Record<string, string> }>;
}

/** Folders of Node packages that are bundled: `roots` and what they need. */
export function bundled(lock: Lock, roots: string[]): string[] {
  const found = new Set<string>();
  const visit = (name: string, from: string) => {
    // The nearest one up the tree, as Node finds it.
    for (let at = from; ; at = at.slice(0, Math.max(0, at.lastIndexOf('node_modules/') - 1))) {
      const path = `${at === '' ? '' : `${at}/`}node_modules/${name}`;
      const entry = lock.packages[path];
      if (entry) {
        if (found.has(path)) return;
        found.add(path);
        Object.keys(entry.dependencies ?? {}).forEach((next) => visit(next, path));
        return;
      }
      if (at === '') return;
    }
  };
  roots.forEach((name) => visit(name, ''));
  return [...found].sort();
}

/** What may not ship with a program under the MIT licence: whatever asks for the whole to be under its own. */
export const foreign = (shipped: Shipped[]): Shipped[] =>
  shipped.filter(({ licence }) => /\b(A|L)?GPL/.test(licence) && !/ OR /.test(licence));

/** All of it as a text: a list, then every text once with what it is for. */
export function written(program: string, shipped: Shipped[]): string {
  const line = (s: Shipped) => `${s.name} ${s.version}`;
  const texts = new Map<string, string[]>();
  for (const one of shipped)
    for (const text of one.texts) {
      const key = text.replace(/\r\n?/g, '\n').trim();
      texts.set(key, [...(texts.get(key) ?? []), line(one)]);
    }
  return [
    `${program}: fonts and libraries that ship with it, and their licences.`,
    shipped.map((one) => `${line(one)}: ${one.licence}`).join('\n'),
    ...[...texts].map(([text, of]) => `${'-'.repeat(72)}\n${of.join(', ')}\n\n${text}`),
  ].join('\n\n');
}

const isLicence = (file: string) => /^(licen[cs]e|copying|notice|ofl)/i.test(file);

function textsIn(folder: string): string[] {
  if (!existsSync(folder)) return [];
  const files = readdirSync(folder, { withFileTypes: true }).filter((f) => f.isFile() && isLicence(f.name));
  return files.map((f) => readFileSync(join(folder, f.name), 'utf8'));
}

/** Crates whose code ends up in the program, and where they run. */
const PROGRAMS = [
  { crate: 'zealous-lane', target: undefined },
  { crate: 'lane-wasm', target: 'wasm32-unknown-unknown' },
];
/** Its base styles are part of ours. */
const STYLES = 'tailwindcss';

function crates(root: string): Shipped[] {
  const host = /^host: (.+)$/m.exec(execFileSync('rustc', ['-vV'], { encoding: 'utf8' }))?.[1] ?? '';
  const found = new Map<string, Shipped>();
  for (const { crate, target } of PROGRAMS) {
    const asked = ['metadata', '--format-version', '1', '--locked', '--filter-platform', target ?? host];
    const told = execFileSync('cargo', asked, { cwd: root, encoding: 'utf8', maxBuffer: 2 ** 27 });
    for (const one of linked(JSON.parse(told), [crate])) {
      const texts = textsIn(join(one.manifest_path, '..'));
      found.set(one.id, { ...one, licence: one.license ?? 'see its text', texts });
    }
  }
  return [...found.values()];
}

function packages(web: string): Shipped[] {
  const lock = JSON.parse(readFileSync(join(web, 'package-lock.json'), 'utf8')) as Lock;
  const roots = Object.keys(lock.packages['']?.dependencies ?? {});
  return bundled(lock, [...roots, STYLES]).map((path) => {
    const { version = '', license = 'see its text' } = lock.packages[path] ?? {};
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    return { name, version, licence: license, texts: textsIn(join(web, path)) };
  });
}

/** The version of the program, of which there is one. */
export const versionOf = (manifest: string): string => /^version = "(.+)"$/m.exec(manifest)?.[1] ?? '';

/** Puts `licences.txt` beside the pages, and the program's version into them. */
export function licences(web: string): Plugin {
  const root = join(web, '..');
  const version = versionOf(readFileSync(join(root, 'Cargo.toml'), 'utf8'));
  return {
    name: 'licences',
    config: () => ({ define: { __VERSION__: JSON.stringify(version) } }),
    generateBundle() {
      const shipped = [...packages(web), ...crates(root)].sort((a, b) => a.name.localeCompare(b.name, 'en'));
      const names = foreign(shipped).map((s) => `${s.name} (${s.licence})`);
      if (names.length > 0)
        this.error(`${names.join(', ')} cannot ship with a program under the MIT licence.`);
      const source = written(`Zealous Lane ${version}`, shipped);
      this.emitFile({ type: 'asset', fileName: 'licences.txt', source });
    },
  };
}
