import { Problem } from '../problem/problem.ts';
import type { SchemaName, SchemaTypes } from './schema-names.ts';
import { validatorOf, type ValidationFault } from './validators.ts';

export type { SchemaName, SchemaTypes } from './schema-names.ts';

/** The value, typed, when it fits the schema; otherwise a Problem that names `where` and the field. */
export function checked<N extends SchemaName>(name: N, value: unknown, where: string): SchemaTypes[N] {
  const validate = validatorOf(name);
  if (validate(value)) return value as SchemaTypes[N];
  const fault = validate.errors?.[0];
  throw new Problem('bad-field', {
    where,
    ...(fault ? describe(fault) : { field: 'the document', why: 'is not as expected' }),
  });
}

/** Parses JSON text and checks it; numbers too large for JSON's range (1e999) do not pass the schemas' limits. */
export function parsed<N extends SchemaName>(name: N, text: string, where: string): SchemaTypes[N] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new Problem('unreadable-json', { where, why: (error as Error).message }, { cause: error });
  }
  return checked(name, value, where);
}

function describe(fault: ValidationFault): { field: string; why: string } {
  const path = fault.instancePath
    .slice(1)
    .replace(/\/(\d+)/g, '[$1]')
    .replace(/\//g, '.');
  const inside = (key: unknown) => (path ? `${path}.${String(key)}` : String(key));
  switch (fault.keyword) {
    case 'required':
      return { field: inside(fault.params.missingProperty), why: 'is missing' };
    case 'additionalProperties':
      return { field: inside(fault.params.additionalProperty), why: 'is not known here' };
    case 'enum':
      return {
        field: path || 'the value',
        why: `must be one of ${(fault.params.allowedValues as unknown[]).join(', ')}`,
      };
    case 'const':
      return { field: path, why: `must be ${JSON.stringify(fault.params.allowedValue)}` };
    default:
      return { field: path || 'the document', why: fault.message ?? 'is not as expected' };
  }
}
