import Ajv from 'ajv';
import access from './access.schema.json' with { type: 'json' };
import api from './api.schema.json' with { type: 'json' };
import archive from './archive.schema.json' with { type: 'json' };
import batch from './batch.schema.json' with { type: 'json' };
import blend from './blend.schema.json' with { type: 'json' };
import board from './board.schema.json' with { type: 'json' };
import common from './common.schema.json' with { type: 'json' };
import content from './content.schema.json' with { type: 'json' };
import document from './document.schema.json' with { type: 'json' };
import followState from './follow-state.schema.json' with { type: 'json' };
import front from './front.schema.json' with { type: 'json' };
import job from './job.schema.json' with { type: 'json' };
import jobWork from './job-work.schema.json' with { type: 'json' };
import media from './media.schema.json' with { type: 'json' };
import loop from './loop.schema.json' with { type: 'json' };
import look from './look.schema.json' with { type: 'json' };
import points from './points.schema.json' with { type: 'json' };
import review from './review.schema.json' with { type: 'json' };
import scene from './scene.schema.json' with { type: 'json' };
import send from './send.schema.json' with { type: 'json' };
import splice from './splice.schema.json' with { type: 'json' };
import steady from './steady.schema.json' with { type: 'json' };
import track from './track.schema.json' with { type: 'json' };
import variants from './variants.schema.json' with { type: 'json' };
import type { SchemaName } from './schema-names.ts';
import { SCHEMA_REFERENCES } from './schema-references.ts';

/** What a schema check leaves behind when it fails, as Ajv says it. */
export interface ValidationFault {
  instancePath: string;
  keyword: string;
  message?: string;
  params: Record<string, unknown>;
}

export interface Validator {
  (value: unknown): boolean;
  errors?: ValidationFault[] | null;
}

/** Every schema, as it is written. */
export const SCHEMAS: readonly { $id: string }[] = [
  common,
  content,
  front,
  blend,
  board,
  look,
  loop,
  document,
  followState,
  job,
  jobWork,
  points,
  splice,
  steady,
  track,
  media,
  send,
  scene,
  access,
  variants,
  review,
  api,
  archive,
  batch,
];

/** An Ajv that knows every schema of the project. `options` are for compiling ahead of time. */
export function schemaAjv(options: object = {}): Ajv {
  return new Ajv({
    strict: true,
    discriminator: true,
    strictTuples: false,
    allowUnionTypes: true,
    schemas: [...SCHEMAS],
    ...options,
  });
}

// Not optimised: that takes longer than all the checks that a thread ever makes by it.
const ajv = schemaAjv({ code: { optimize: false } });
const compiled = new Map<SchemaName, Validator>();

/**
 * The validator of a schema, compiled when first needed. The browser gets the same compiled ahead of
 * time by the build (web/precompiled-validators.ts), because its content policy forbids making code
 * at run time.
 */
export function validatorOf(name: SchemaName): Validator {
  let validator = compiled.get(name);
  if (!validator) {
    validator = ajv.compile({ $ref: SCHEMA_REFERENCES[name] });
    compiled.set(name, validator);
  }
  return validator;
}
