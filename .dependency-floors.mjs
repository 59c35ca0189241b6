/**
 * The floors of core (docs/architecture.md): each stands on those before it and knows nothing of those after it. And no circles between
 * folders: where two could not be told apart, they would be one. Tests may look at anything.
 */
const FLOORS = ['base', 'motion', 'surface', 'picture', 'handoff'];

export default {
  forbidden: [
    ...FLOORS.slice(0, -1).map((floor, i) => ({
      name: `floor-${floor}`,
      severity: 'error',
      from: { path: `^core/${floor}/` },
      to: { path: `^core/(${FLOORS.slice(i + 1).join('|')})/` },
    })),
    { name: 'no-circles-between-folders', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    includeOnly: '^core/',
    exclude: { path: 'core/base/kernels/assembly|^core/test/|\\.test\\.ts$' },
    enhancedResolveOptions: { extensions: ['.ts', '.json'] },
  },
};
