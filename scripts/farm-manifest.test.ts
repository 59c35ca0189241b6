import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Job } from 'kubernetes-models/batch/v1/Job';
import { expect, test } from 'vitest';
import { parse } from 'yaml';

const text = readFileSync(join(import.meta.dirname, '../docs/farm/kubernetes-render.yaml'), 'utf8');

// Held to the published OpenAPI schema of Kubernetes, as the package kubernetes-models carries it.
test('the Job manifest fits the schema of batch/v1', () => {
  const manifest = parse(text) as ConstructorParameters<typeof Job>[0] & { spec: object };
  expect(() => new Job(manifest).validate()).not.toThrow();
  expect(() => new Job({ ...manifest, spec: { ...manifest.spec, completions: 'many' } } as never).validate()).toThrow();
});
