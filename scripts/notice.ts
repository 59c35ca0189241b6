// `npm run notice`: writes NOTICE, what of other people's work is shipped and under which licence, from package-lock.json.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const ROOT = join(import.meta.dirname, '..');

/** A package as the lock file names it. */
interface Package {
  version: string;
  license?: string;
  dev?: boolean;
  devOptional?: boolean;
  os?: string[];
  cpu?: string[];
  libc?: string[];
}

const fits = (list: string[] | undefined, own: string): boolean => list === undefined || list.includes(own);

/** The text of NOTICE: every package that is installed where the program runs, by its licence. */
export function noticeText(): string {
  const { packages } = JSON.parse(readFileSync(join(ROOT, 'package-lock.json'), 'utf8')) as {
    packages: Record<string, Package>;
  };
  const byLicence = new Map<string, Set<string>>();
  for (const [path, { version, license, dev, devOptional, os, cpu, libc }] of Object.entries(packages)) {
    // What only develops and tests is not shipped; nor is what belongs to another system.
    const here = fits(os, 'linux') && fits(cpu, 'x64') && fits(libc, 'glibc');
    if (path === '' || dev || devOptional || !here) continue;
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    const licence = license ?? 'licence not stated in its package.json';
    byLicence.set(licence, (byLicence.get(licence) ?? new Set<string>()).add(`${name} ${version}`));
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

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) writeFileSync(join(ROOT, 'NOTICE'), noticeText());
