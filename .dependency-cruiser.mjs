/** The one rule of direction (docs/architecture.md), and no cycles. */
export default {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'core-stands-alone',
      severity: 'error',
      comment: 'core knows nothing of Node, the page or the other rooms',
      from: { path: '^core', pathNot: '\\.test\\.ts$|^core/test/use-compiled-kernels' },
      to: {
        pathNot:
          '^core|^node_modules/(ajv|ml-matrix|@types/d3-contour|d3-contour|@types/d3-dsv|d3-dsv|quickselect|simplify-js|svgpath|@types/opentype.js|opentype.js)',
      },
    },
    {
      name: 'core-without-node',
      severity: 'error',
      from: { path: '^core', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'web-only-core',
      severity: 'error',
      from: { path: '^web/src' },
      to: { path: '^(server|cli|demo|bench|e2e)' },
    },
    {
      name: 'server-not-outward',
      severity: 'error',
      comment: 'the demo loader reads the shape of a truth file, nothing else',
      from: { path: '^server', pathNot: '\\.test\\.ts$' },
      to: { path: '^(web|cli|demo|bench|e2e)', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'routes-are-asked-by-nobody',
      severity: 'error',
      comment: 'what a route does is a use case, which a command or the demo can call too',
      from: { path: '^server/(?!http|start)', pathNot: '\\.test\\.ts$' },
      to: { path: '^server/http' },
    },
    {
      name: 'cli-only-media',
      severity: 'error',
      from: { path: '^cli', pathNot: ['\\.test\\.ts$', '^cli/test/'] },
      to: { path: '^(web|demo|bench|e2e|server/(?!media|kernels))' },
    },
    {
      name: 'demo-judges-alone',
      severity: 'error',
      comment: 'the renderer of the truth shares no code with what it judges',
      from: { path: '^demo/(scene|textures|shots)' },
      to: { path: '^(core|server|web|cli)' },
    },
    { name: 'declared-packages', severity: 'error', from: {}, to: { dependencyTypes: ['npm-no-pkg'] } },
    {
      name: 'resolves',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '^(pinia|vite/client|image-size/fromFile)$' },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: 'web/dist|core/base/kernels/assembly' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.js', '.mjs', '.json'] },
  },
};
