// What is not our own: the crates that the program is made of and the packages that the page is made of, with their
// licences and where they come from.
//
//   node scripts/parts.js notices FILE   the licences of everything that ships, as text
//   node scripts/parts.js sbom FILE      a bill of materials of what ships (CycloneDX 1.6)
//   node scripts/parts.js check          whether each, also of what only builds and tests, may be used
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import process from 'node:process';
import satisfies from 'spdx-satisfies';

/** Licences under which something may be used in a program that is given away. */
const ALLOWED = [
  '0BSD',
  'Apache-2.0',
  'BlueOak-1.0.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'BSL-1.0',
  'CC-BY-3.0',
  'CC-BY-4.0',
  'CC0-1.0',
  'CDLA-Permissive-2.0',
  'ISC',
  'MIT',
  'MIT-0',
  'MPL-2.0',
  'OFL-1.1',
  'Python-2.0',
  'Unicode-3.0',
  'Unlicense',
  'Zlib',
];
const TEXTS = /^(licen[cs]e|copying|notice|unlicense|ofl)/i;

function allowed(expression) {
  // Older packages write "MIT/Apache-2.0"; exceptions only allow more.
  const plain = (expression ?? '').replaceAll('/', ' OR ').replace(/ WITH [\w.-]+/g, '');
  try {
    return satisfies(plain, ALLOWED);
  } catch {
    return false;
  }
}

function textsIn(folder) {
  if (!existsSync(folder)) return [];
  const files = readdirSync(folder, { withFileTypes: true }).filter((f) => f.isFile() && TEXTS.test(f.name));
  return files.map((f) => readFileSync(join(folder, f.name), 'utf8').trim());
}

/** Crates of others; of each whether it ships, and whether it comes from the registry with a checksum. */
function crates() {
  const asked = ['metadata', '--format-version', '1', '--locked'];
  const output = execFileSync('cargo', asked, { cwd: '..', maxBuffer: 1 << 28, encoding: 'utf8' });
  const { packages, resolve } = JSON.parse(output);
  const lock = readFileSync('../Cargo.lock', 'utf8').split('[[package]]');
  const isFixed = (p) =>
    lock.some(
      (text) => text.includes(`name = "${p.name}"\nversion = "${p.version}"`) && text.includes('\nchecksum = '),
    );
  const nodes = new Map(resolve.nodes.map((n) => [n.id, n]));
  const shipped = new Set();
  const walk = (id) => {
    if (shipped.has(id)) return;
    shipped.add(id);
    for (const dep of nodes.get(id).deps) if (dep.dep_kinds.some((k) => k.kind === null)) walk(dep.pkg);
  };
  walk(packages.find((p) => p.name === 'cimento-server').id);
  return packages
    .filter((p) => p.source !== null)
    .map((p) => ({
      kind: 'cargo',
      name: p.name,
      version: p.version,
      licence: p.license,
      ships: shipped.has(p.id),
      sound: p.source.startsWith('registry+') && isFixed(p),
      texts: () => textsIn(join(p.manifest_path, '..')),
    }));
}

/** Packages of others, as they are locked. */
function packages() {
  const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8'));
  return Object.entries(packages)
    .filter(([folder]) => folder !== '')
    .map(([folder, p]) => ({
      kind: 'npm',
      name: folder.replace(/^.*node_modules\//, ''),
      version: p.version,
      licence: p.license,
      ships: !p.dev && !p.devOptional && !p.optional,
      // Where no address is locked it is the registry's; a file or a repository has one.
      sound: (p.resolved ?? 'https://').startsWith('https://') && /^sha512-/.test(p.integrity ?? ''),
      texts: () => textsIn(folder),
    }));
}

function sorted(all) {
  return all.sort((a, b) => a.kind.localeCompare(b.kind) || a.name.localeCompare(b.name));
}

function notices(parts) {
  // The same text is said once, with everything that it is of.
  const of = new Map();
  for (const part of parts) {
    const texts = part.texts();
    if (texts.length === 0) texts.push(`(comes without a text of its own; its licence is ${part.licence})`);
    for (const text of texts) of.set(text, [...(of.get(text) ?? []), part]);
  }
  const said = (part) => `${part.name} ${part.version} (${part.licence})`;
  const blocks = [...of].map(([text, all]) => `${all.map(said).join('\n')}\n\n${text}\n`);
  // The mark says how it is encoded: names are not all plain letters.
  const head = `\ufeffCimento stands on the work of others. What ships with it, and the terms on which it may:\n`;
  return [head, ...blocks].join(`\n${'-'.repeat(78)}\n\n`);
}

function bill(parts) {
  const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
  return {
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    version: 1,
    metadata: { component: { type: 'application', name: 'cimento', version } },
    components: parts.map((p) => ({
      type: 'library',
      name: p.name,
      version: p.version,
      purl: `pkg:${p.kind}/${p.name.replace('@', '%40')}@${p.version}`,
      licenses: [{ expression: (p.licence ?? '').replaceAll('/', ' OR ') }],
    })),
  };
}

const [what, file] = process.argv.slice(2);
const all = sorted([...crates(), ...packages()]);
const ship = all.filter((p) => p.ships);
if (what === 'notices') writeFileSync(file, notices(ship));
else if (what === 'sbom') writeFileSync(file, `${JSON.stringify(bill(ship), null, 2)}\n`);
else if (what === 'check') {
  const bad = all.filter((p) => !allowed(p.licence) || !p.sound);
  for (const p of bad) {
    const why = allowed(p.licence) ? 'does not come from the registry with a checksum' : `has the licence ${p.licence}`;
    console.error(`${p.kind} ${p.name} ${p.version} ${why}`);
  }
  if (bad.length > 0) process.exit(1);
  console.log(`${all.length} parts of others, ${ship.length} of them in what ships: licences and sources are in order`);
} else {
  console.error('node scripts/parts.js notices FILE | sbom FILE | check');
  process.exit(2);
}
