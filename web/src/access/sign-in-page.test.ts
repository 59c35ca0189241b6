// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, test } from 'vitest';
import type { AccessSession } from '../../../core/base/schemas/types.ts';
import { mountPanel } from '../test/mount-panel.ts';
import { Refusal, TableApi } from '../test/table-api.ts';
import SignInPage from './SignInPage.vue';

const NOBODY: AccessSession = { needed: true, setUp: false, name: null, role: null, scopes: [] };
beforeEach(() => setActivePinia(createPinia()));

test('a wrong password is answered; the right one leads where one wanted to go, never off the service', async () => {
  const api = new TableApi({
    'GET /access/session': NOBODY,
    'POST /access/sign-in': new Refusal(401, 'sign-in', 'Name or password is wrong.'),
  });
  const panel = await mountPanel(SignInPage, {}, '/sign-in?to=//elsewhere.example');
  await panel.choose('Name', 'ida');
  await panel.choose('Password', 'wrong');
  await panel.wrapper.get('form').trigger('submit');
  await expect.poll(() => panel.text).toContain('Name or password is wrong. Do something else.');
  api.on('POST /access/sign-in', { ...NOBODY, name: 'ida' });
  await panel.wrapper.get('form').trigger('submit');
  await expect.poll(() => panel.wrapper.vm.$router.currentRoute.value.fullPath).toBe('/');
});

test('the first account needs the code of the start and the same password twice', async () => {
  const api = new TableApi({
    'GET /access/session': { ...NOBODY, setUp: true },
    'POST /access/set-up': { ...NOBODY, name: 'ida' },
  });
  const panel = await mountPanel(SignInPage, {}, '/sign-in#a-code');
  await panel.choose('Name', 'ida');
  await panel.choose('Password', 'long enough');
  await panel.choose('Password again', 'long enough?');
  await panel.wrapper.get('form').trigger('submit');
  expect(panel.text).toContain('The two passwords differ.');
  expect(api.asked('POST', /./)).toEqual([]);
  await panel.choose('Password again', 'long enough');
  await panel.wrapper.get('form').trigger('submit');
  await expect
    .poll(() => api.last('POST', '/access/set-up'))
    .toEqual({
      code: 'a-code',
      name: 'ida',
      password: 'long enough',
    });
});
