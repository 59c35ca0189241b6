// Writes core/base/kernels/kernel-calls.ts from the signatures of the kernels in core/base/kernels/assembly: there each kernel is
// called with its arguments by name, so that none can stand in another's place. Run it when a signature has changed; a test holds
// the file to what would be written. A kernel whose first arguments are `first` and `last` does a part of its work, which two
// threads can share; what each of them needs for itself is given twice: arguments whose names begin with `own`.
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const kernels = join(dirname(dirname(fileURLToPath(import.meta.url))), 'core/base/kernels');
const target = join(kernels, 'kernel-calls.ts');
const MODULES = [
  { entry: 'index.ts', name: 'Following' },
  { entry: 'composite.ts', name: 'Composite' },
];
const capital = (word) => word[0].toUpperCase() + word.slice(1);

/** What a module of AssemblyScript exports: functions with their arguments, and constants. */
function exportsOf(entry) {
  const functions = [];
  const constants = [];
  const text = readFileSync(join(kernels, 'assembly', entry), 'utf8');
  for (const [, names, file] of text.matchAll(/export \{ ([^}]*) \} from '\.\/([^']*)';/g)) {
    const source = readFileSync(join(kernels, 'assembly', `${file}.ts`), 'utf8');
    for (const name of names.split(', ')) {
      const found = new RegExp(`export function ${name}\\(([^)]*)\\): (\\w+)`).exec(source);
      if (!found) {
        constants.push(name);
        continue;
      }
      const args = [...found[1].matchAll(/(\w+): \w+/g)].map(([, arg]) => arg);
      const shared = args[0] === 'first' && args[1] === 'last';
      functions.push({
        name,
        args: shared ? args.slice(2) : args,
        shared,
        returns: found[2] === 'void' ? 'void' : 'number',
      });
    }
  }
  for (const [, name] of text.matchAll(/export const (\w+):/g)) constants.push(name);
  return { functions, constants };
}

const isOwn = (arg) => /^own[A-Z]/.test(arg);

/** The arguments of one kernel, by name. */
const callType = ({ name, args }) => [
  `export interface ${capital(name)}Call {`,
  ...args.map((arg) => `  readonly ${arg}: ${isOwn(arg) ? 'readonly [number, number]' : 'number'};`),
  '}',
];

/** What a module offers, as WebAssembly has it: by position. */
const exportsType = (name, { functions, constants }) => [
  `/** What assembly's module offers, by position; places are byte offsets. */`,
  `export interface ${name}Exports {`,
  ...constants.map((constant) => `  readonly ${constant}: { readonly value: number };`),
  ...functions.map(
    ({ name: kernel, args, shared, returns }) =>
      `  ${kernel}(${[...(shared ? ['first', 'last'] : []), ...args].map((arg) => `${arg}: number`).join(', ')}): ${returns};`,
  ),
  '}',
];

/** Calls by name of the kernels that are run by one thread. */
const callers = (name, { functions }) => [
  `export const ${name.toLowerCase()}Calls = (wasm: ${name}Exports) => ({`,
  ...functions
    .filter(({ shared }) => !shared)
    .map(
      ({ name: kernel, args }) =>
        `  ${kernel}: (call: ${capital(kernel)}Call) => wasm.${kernel}(${args.map((arg) => `call.${arg}`).join(', ')}),`,
    ),
  '});',
];

/** Calls by name of the kernels that two threads share: the numbers that one leaves for the other, and how they are run. */
function sharing({ functions }) {
  const shared = functions.filter((one) => one.shared);
  const runs = shared.flatMap(({ name, args, returns }, number) => {
    let at = 0;
    const given = args.map((arg) => {
      const place = isOwn(arg) ? `${at} + thread` : `${at}`;
      at += isOwn(arg) ? 2 : 1;
      return `given[${place}]!`;
    });
    const call = `wasm.${name}(${['from', 'to', ...given].join(', ')})`;
    return [
      `    case ${number}:`,
      ...(returns === 'void' ? [`      ${call};`, '      return 0;'] : [`      return ${call};`]),
    ];
  });
  return [
    '/** Kernels whose work can be shared; numbers, because both threads must name them alike. */',
    'export const SHARED = {',
    ...shared.map(({ name }, number) => `  ${name}: ${number},`),
    '} as const;',
    '',
    '/** The arguments of a shared kernel in the order in which both threads read them. */',
    'export const given = {',
    ...shared.map(
      ({ name, args }) =>
        `  ${name}: (call: ${capital(name)}Call) => [${args.map((arg) => `${isOwn(arg) ? '...' : ''}call.${arg}`).join(', ')}],`,
    ),
    '};',
    '',
    '/** Runs units from…to of a shared kernel on what was given; what is to be added up. */',
    'export function runShared(',
    '  wasm: FollowingExports, kernel: number, from: number, to: number, given: Float64Array, thread: 0 | 1,',
    '): number {',
    '  switch (kernel) {',
    ...runs,
    '    default:',
    '      throw new RangeError(`there is no kernel ${kernel}`);',
    '  }',
    '}',
  ];
}

/** The whole file, before it is formatted. */
export function kernelCalls() {
  const lines = ['// Written by scripts/kernel-calls.mjs from the signatures in assembly: change those, then run it.'];
  for (const { entry, name } of MODULES) {
    const module = exportsOf(entry);
    lines.push('', ...exportsType(name, module));
    for (const one of module.functions) lines.push('', ...callType(one));
    lines.push('', ...callers(name, module));
    if (module.functions.some(({ shared }) => shared)) lines.push('', ...sharing(module));
  }
  return `${lines.join('\n')}\n`;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(target, kernelCalls());
