// For tools that know TypeScript but not Vue's files; vue-tsc reads the files themselves.
declare module '*.vue' {
  import type { DefineComponent } from 'vue';
  const component: DefineComponent;
  export default component;
}
