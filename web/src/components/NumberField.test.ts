// @vitest-environment happy-dom
import { mount } from '@vue/test-utils';
import { expect, test } from 'vitest';
import NumberField from './NumberField.vue';

const field = (props: object = {}) =>
  mount(NumberField, { props: { label: 'Soften', value: 1, unit: 'px', min: 0, max: 10, step: 0.1, ...props } });
const emitted = (f: ReturnType<typeof field>) =>
  (f.emitted('commit') ?? []).map(([v]) => Number((v as number).toFixed(6)));

test('a typed number is reported once, on Enter or when the field is left', async () => {
  const f = field();
  const input = f.get('input');
  await input.setValue('2.5');
  await input.trigger('keydown', { key: 'Enter' });
  expect(emitted(f).at(-1)).toBe(2.5);
  expect(input.attributes('aria-label')).toBe('Soften, px');
});

test('a decimal comma is understood; nonsense puts the old number back', async () => {
  const f = field();
  await f.get('input').setValue('1,25');
  expect(emitted(f)).toEqual([1.25]);
  const g = field();
  await g.get('input').setValue('soft');
  expect(emitted(g)).toEqual([]);
  expect(g.get('input').element.value).toBe('1');
});

test('leaving a field as it was shown is no edit, though the number has more digits', async () => {
  const f = field({ value: 1.23456, digits: 2 });
  expect(f.get('input').element.value).toBe('1.23');
  await f.get('input').trigger('change');
  await f.get('input').trigger('keydown', { key: 'Enter' });
  expect(emitted(f)).toEqual([]);
});

test('numbers outside the range are brought to its end', async () => {
  const f = field();
  await f.get('input').setValue('99');
  expect(emitted(f)).toEqual([10]);
});

test('arrow keys step: 1, 10 with Shift, a tenth with Alt', async () => {
  const f = field();
  const input = f.get('input');
  await input.trigger('keydown', { key: 'ArrowUp' });
  await f.setProps({ value: 1.1 });
  await input.trigger('keydown', { key: 'ArrowUp', shiftKey: true });
  await f.setProps({ value: 2.1 });
  await input.trigger('keydown', { key: 'ArrowDown', altKey: true });
  expect(emitted(f)).toEqual([1.1, 2.1, 2.09]);
});
