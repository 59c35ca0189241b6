// Lets a thread of the test runner load TypeScript by itself: the sources then run as they would in the program.
import { register } from 'node:module';

// Asked for by every file of a thread; hooks that were added again for each would call one another.
if (!globalThis.loadsTypeScript) {
  globalThis.loadsTypeScript = true;
  register('./typescript-hooks.mjs', import.meta.url);
}
