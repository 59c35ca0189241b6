// `npm run notice`: writes NOTICE, what of other people's work is shipped and under which licence, from package-lock.json.
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

const fits = (list, own) => list === undefined || list.includes(own);

/** The text of NOTICE: every package that is installed where the program runs, by its licence. */
export function noticeText() {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  const byLicence = new Map();
  for (const [path, { version, license, dev, devOptional, os, cpu, libc }] of Object.entries(packages)) {
    // What only develops and tests is not shipped; nor is what belongs to another system.
    const here = fits(os, 'linux') && fits(cpu, 'x64') && fits(libc, 'glibc');
    if (path === '' || dev || devOptional || !here) continue;
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    const licence = license ?? 'licence not stated in its package.json';
    byLicence.set(licence, (byLicence.get(licence) ?? new Set()).add(`${name} ${version}`));
  }
  const sections = [...byLicence]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(
      ([licence, names]) =>
        `${licence}\n${[...names]
          .sort()
          .map((name) => `  ${name}\n`)
          .join('')}`,
    );
  return `Yarlop is made with the work of others. Installed with it are these packages, each with its licence's text in its own folder of
node_modules; the fonts are shipped with the page. Debian's MariaDB and ffmpeg are used as programs and are not part of it.

${sections.join('\n')}`;
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) writeFileSync(join(root, 'NOTICE'), noticeText());
