import Ajv from 'ajv';
import common from './common.schema.json' with { type: 'json' };
import job from './job.schema.json' with { type: 'json' };
import look from './look.schema.json' with { type: 'json' };
import track from './track.schema.json' with { type: 'json' };

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

export const SCHEMAS = { job, look, track };
export const COMMON = common;

const ajv = new Ajv({ strict: true, strictTuples: false, allowUnionTypes: true, schemas: [common] });

/**
 * One validator a schema, compiled at start. The browser gets the same compiled ahead of time by the
 * build (web/precompiled-validators.ts), because its content policy forbids making code at run time.
 */
export const validators: Record<keyof typeof SCHEMAS, Validator> = {
  job: ajv.compile(job), look: ajv.compile(look), track: ajv.compile(track),
} as Record<keyof typeof SCHEMAS, Validator>;
