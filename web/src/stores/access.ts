import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { AccessSession, Scope } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';

/** Who one is here, where the service asks. */
export const useAccess = defineStore('access', () => {
  const session = shallowRef<AccessSession | null>(null);
  async function load(): Promise<AccessSession> {
    session.value = await call('GET', '/access/session', 'accessSession');
    return session.value;
  }
  async function signIn(name: string, password: string): Promise<void> {
    session.value = await call('POST', '/access/sign-in', 'accessSession', { name, password });
  }
  async function setUp(code: string, name: string, password: string): Promise<void> {
    session.value = await call('POST', '/access/set-up', 'accessSession', { code, name, password });
  }
  async function signOut(): Promise<void> {
    session.value = await call('POST', '/access/sign-out', 'accessSession');
  }
  const name = computed(() => session.value?.name ?? null);
  const asked = computed(() => session.value?.needed ?? false);
  const may = (scope: Scope) => session.value?.scopes.includes(scope) ?? false;
  return { session, name, asked, may, load, signIn, setUp, signOut };
});
