// Makes sure that Debian's packages are there: installs them when it may, else prints the one line to run.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const FOUND_BY = {
  'mariadb-server': ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db'],
  ffmpeg: ['/usr/bin/ffmpeg', '/usr/bin/ffprobe'],
  chromium: ['/usr/bin/chromium'],
  s3cmd: ['/usr/bin/s3cmd'],
  unzip: ['/usr/bin/unzip'],
  'opencv-doc': ['/usr/share/doc/opencv-doc/examples'],
};

export function ensureDebian(names) {
  const missing = names.filter((name) => !FOUND_BY[name].every((file) => existsSync(file)));
  if (missing.length === 0) return;
  const line = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) {
    console.error(
      `These Debian packages are missing: ${missing.join(', ')}. Install them, then start again:\n\n  sudo sh -c '${line}'\n`,
    );
    process.exit(1);
  }
  console.error(`Installing Debian packages: ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const run = (args) => spawnSync('apt-get', args, { env, stdio: ['ignore', 'ignore', 2] }).status === 0;
  if (!run(['update', '-qq']) || !run(['install', '-y', '-qq', '--no-install-recommends', ...missing])) {
    console.error(
      `The Debian packages could not be installed. Run this by hand and look at what it says:\n\n  ${line}\n`,
    );
    process.exit(1);
  }
}
