import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect, test } from 'vitest';

const SRC = join(import.meta.dirname, '../../src');
const LAYERS = ['core', 'rulebooks', 'formats', 'io', 'workers', 'state', 'ui', 'server'] as const;
type Layer = (typeof LAYERS)[number] | 'routes';

/** What each layer may import, itself included. */
const MAY: Readonly<Record<Layer, readonly Layer[]>> = {
  core: ['core'],
  rulebooks: ['rulebooks', 'core'],
  formats: ['formats', 'core'],
  io: ['io', 'core'],
  workers: ['workers', 'io', 'formats', 'core'],
  state: ['state', 'rulebooks', 'workers', 'io', 'formats', 'core'],
  ui: ['ui', 'core'],
  server: ['server', 'core', 'formats', 'io'],
  routes: ['routes', 'rulebooks', 'state', 'workers', 'io', 'formats', 'core', 'ui', 'server'],
};

const files = readdirSync(SRC, { recursive: true, encoding: 'utf8' })
  .filter((path) => /\.(ts|svelte)$/.test(path) && !path.endsWith('.test.ts') && !path.endsWith('.d.ts'))
  .map((path) => join(SRC, path));

function layerOf(path: string): Layer | null {
  const inside = relative(SRC, path);
  if (inside.startsWith('routes/')) return 'routes';
  return LAYERS.find((layer) => inside.startsWith(`lib/${layer}/`)) ?? null;
}

/** Paths that a file imports, resolved; packages as they are. */
function importsOf(file: string): string[] {
  const text = readFileSync(file, 'utf8');
  const found = [...text.matchAll(/(?:from\s+|import\s*\(\s*|import\s+)'([^']+)'/g)].map(
    (match) => match[1] as string,
  );
  return found.map((path) => {
    if (path.startsWith('$lib/')) return join(SRC, 'lib', path.slice(5));
    return path.startsWith('.') ? resolve(dirname(file), path) : path;
  });
}

test('imports point one way through the layers', () => {
  const wrong = files.flatMap((file) => {
    const from = layerOf(file);
    if (!from) return [];
    return importsOf(file)
      .map((path) => [path, layerOf(path)] as const)
      .filter(([, to]) => to !== null && !MAY[from].includes(to))
      .map(([path]) => `${relative(SRC, file)} imports ${relative(SRC, path)}`);
  });
  expect(wrong).toEqual([]);
});

test('the core knows neither Svelte nor Node nor the browser', () => {
  const core = files.filter((file) => layerOf(file) === 'core');
  expect(core.length).toBeGreaterThan(20);
  for (const file of core) {
    for (const path of importsOf(file))
      expect(path, file).not.toMatch(/^(svelte|\$app|node:|localforage|virtua|bits-ui)/);
    expect(readFileSync(file, 'utf8'), file).not.toMatch(
      /\b(document|window|navigator|localStorage|indexedDB|fetch|process|Buffer)\s*[.(]/,
    );
  }
});

test('outsiders of core and formats import a folder, not a file inside it', () => {
  const wrong = files.flatMap((file) =>
    importsOf(file).flatMap((path) => {
      const inside = /lib\/(core|formats)\/([^/]+)\/[^/]+$/.exec(path);
      const own = inside && file.includes(`lib/${inside[1]}/${inside[2]}/`);
      // The ending of a name and the tables of tags do without the parsers: the first board needs no more.
      return inside && !own && !/(reading\/media-names|tag-map)$/.test(path) && !path.endsWith('.json')
        ? [`${relative(SRC, file)} imports ${relative(SRC, path)}`]
        : [];
    }),
  );
  expect(wrong).toEqual([]);
});

test('devices share no code with the core that names and reads for them, nor scanners with each other', () => {
  const own = files.filter((file) => file.includes('lib/server/devices/'));
  expect(own.length).toBeGreaterThan(8);
  const scanners = /lib\/server\/devices\/(attic|galley|pocket)\//;
  for (const file of own) {
    const mine = scanners.exec(file)?.[1];
    for (const path of importsOf(file)) {
      const inside = path.startsWith(SRC) ? relative(SRC, path) : '';
      expect(inside === '' || inside.startsWith('lib/server/devices/'), `${file} imports ${path}`).toBe(true);
      const other = scanners.exec(path)?.[1];
      expect(mine === undefined || other === undefined || mine === other, `${file} imports ${path}`).toBe(
        true,
      );
    }
  }
});

test('no component makes state that outlives it but by the session, which owns it', () => {
  const wrong = files
    .filter((file) => layerOf(file) === 'routes' || layerOf(file) === 'ui')
    .flatMap((file) =>
      readFileSync(file, 'utf8')
        .split('\n')
        .filter((line) => /new \w+Desk\(/.test(line) && !/session\.part\(/.test(line))
        .map((line) => `${relative(SRC, file)}: ${line.trim()}`),
    );
  expect(wrong).toEqual([]);
  const session = readFileSync(join(SRC, 'lib/state/session.svelte.ts'), 'utf8');
  expect(session).toContain('lasting(make)');
});

test('what a place can do is asked of its table, and never which sort of place it is', () => {
  const asking = files
    .filter((file) => /\btype\s*(===|!==)\s*'(device|zip)'/.test(readFileSync(file, 'utf8')))
    .map((file) => relative(SRC, file));
  // Not every player has a device; an address is made from what is chosen, and a run makes a ZIP anew.
  expect(asking.sort()).toEqual([
    'lib/core/library/players.ts',
    'lib/state/player/place.svelte.ts',
    'lib/workers/run-service.ts',
  ]);
});

test('a name of a type means one thing', () => {
  const named = new Map<string, string[]>();
  for (const file of files) {
    // Stand-ins share nothing with the application, names included.
    if (layerOf(file) === 'server') continue;
    for (const [, name = ''] of readFileSync(file, 'utf8').matchAll(
      /^export (?:interface|type|class) (\w+)/gm,
    ))
      named.set(name, [...(named.get(name) ?? []), relative(SRC, file)]);
  }
  expect([...named].filter(([, all]) => all.length > 1)).toEqual([]);
});

test('migrations have shapes of their own, and call upon no default of today', () => {
  const wrong = files
    .filter((file) => file.includes('/migrations/'))
    .flatMap((file) => {
      const text = readFileSync(file, 'utf8');
      const today = ['NO_CHOICES', 'SELECT_ALL', 'newPlayer', 'EMPTY_PARTS', 'trimOverlay'];
      return today.filter((name) => text.includes(name)).map((name) => `${relative(SRC, file)}: ${name}`);
    });
  expect(wrong).toEqual([]);
});

/** The file that a path of an import stands for; null for what is none of ours. */
function fileOf(path: string): string | null {
  const all = [path, `${path}.ts`, join(path, 'index.ts'), `${path}.svelte`, `${path}.svelte.ts`];
  return all.find((one) => known.has(one)) ?? null;
}
const known = new Set(files);

test('no file imports itself by way of others, types included', () => {
  const imports = new Map(files.map((file) => [file, staticImportsOf(file)]));
  const state = new Map<string, 'open' | 'done'>();
  const cycles: string[] = [];
  const walk = (file: string, way: readonly string[]) => {
    if (state.get(file) === 'done') return;
    const at = way.indexOf(file);
    if (at >= 0) {
      cycles.push([...way.slice(at), file].map((one) => relative(SRC, one)).join(' > '));
      return;
    }
    for (const next of imports.get(file) ?? []) walk(next, [...way, file]);
    state.set(file, 'done');
  };
  for (const file of files) walk(file, []);
  expect(cycles).toEqual([]);
});

/** What a file imports when it loads, or takes types from. */
function staticImportsOf(file: string): readonly string[] {
  const text = readFileSync(file, 'utf8').replace(/import\(\s*'[^']+'\s*\)/g, '');
  return [...text.matchAll(/\bfrom\s+'([^']+)'/g)].flatMap(([, path = '']) => {
    if (path.startsWith('$lib/')) return fileOf(join(SRC, 'lib', path.slice(5))) ?? [];
    return path.startsWith('.') ? (fileOf(resolve(dirname(file), path)) ?? []) : [];
  });
}
