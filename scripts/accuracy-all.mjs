/** Everything that docs/accuracy.md says, measured anew, one part after the other: `npm run accuracy:all [-- boards rows …]`, all or those named. Plates that are not there are rendered first, which takes hours. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const asked = process.argv.slice(2);
const { scripts } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
const parts = Object.keys(scripts)
  .filter(
    (name) =>
      name === 'accuracy' || (name.startsWith('accuracy:') && !['accuracy:all', 'accuracy:check'].includes(name)),
  )
  .filter((name) => asked.length === 0 || asked.includes(name.replace('accuracy:', '')));
const failed = parts.filter((name) => {
  console.log(`\n== ${name}`);
  return spawnSync('npm', ['run', '-s', name], { stdio: 'inherit' }).status !== 0;
});
if (failed.length > 0) {
  console.error(`not measured: ${failed.join(', ')}`);
  process.exit(1);
}
