// How the bundler makes one file of what speed.ts runs in the browser.
export default {
  logLevel: 'error',
  build: {
    outDir: '.cache/browser-step',
    emptyOutDir: true,
    minify: false,
    lib: { entry: 'bench/front/browser-step.ts', formats: ['es'], fileName: 'steps' },
  },
};
