import standaloneCode from 'ajv/dist/standalone/index.js';
import type { Plugin } from 'vite';
import { SCHEMA_REFERENCES } from '../core/base/schemas/schema-references.ts';
import { schemaAjv } from '../core/base/schemas/validators.ts';

/**
 * Puts validators compiled at build time in the place of core/base/schemas/validators.ts, so that the page's
 * content policy can forbid making code at run time.
 */
export function precompiledValidators(): Plugin {
  return {
    name: 'precompiled-validators',
    enforce: 'pre',
    load(id) {
      if (!id.replaceAll('\\', '/').endsWith('/core/base/schemas/validators.ts')) return null;
      const ajv = schemaAjv({ code: { source: true, esm: true, lines: true } });
      const exports: Record<string, string> = {};
      for (const [name, reference] of Object.entries(SCHEMA_REFERENCES)) {
        exports[`check_${name}`] = `by-name/${name}`;
        ajv.addSchema({ $id: `by-name/${name}`, $ref: reference });
      }
      const code = standaloneCode(ajv, exports);
      const table = Object.keys(SCHEMA_REFERENCES)
        .map((name) => `${name}: check_${name}`)
        .join(', ');
      return `${withImports(code)}\nconst table = { ${table} };\nexport function validatorOf(name) { return table[name]; }\n`;
    },
  };
}

/** Ajv's standalone code asks for its few helpers with require, even as a module. */
function withImports(code: string): string {
  const imports = new Map<string, string>();
  const body = code.replace(/require\("([^"]+)"\)(\.default)?/g, (_, path: string) => {
    const name = imports.get(path) ?? `helper${imports.size}`;
    imports.set(path, name);
    return `(${name}.default ?? ${name})`;
  });
  return [...imports].map(([path, name]) => `import ${name} from '${path}.js';`).join('\n') + `\n${body}`;
}
