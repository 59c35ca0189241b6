import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';

const root = join(import.meta.dirname, '..');
const { kernelCalls } = (await import(join(root, 'scripts/kernel-calls.mjs'))) as { kernelCalls: () => string };

test('calls of kernels by name are those of the signatures in assembly', () => {
  const written = readFileSync(join(root, 'core/base/kernels/kernel-calls.ts'), 'utf8');
  expect(written).toContain('export interface BlurTemplateCall');
  expect(written).toBe(kernelCalls());
});
