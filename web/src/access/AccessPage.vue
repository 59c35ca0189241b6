<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { AccessToken, Account, Role, Scope } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import AppCheck from '../components/AppCheck.vue';
import AppField from '../components/AppField.vue';
import AppSelect from '../components/AppSelect.vue';
import IconButton from '../components/IconButton.vue';
import SecretLink from '../components/SecretLink.vue';
import { toggled, choicesOf } from '../components/choice.ts';
import { dayWords } from '../components/day-words.ts';
import { useAccess } from '../stores/access.ts';
import { useNotices } from '../stores/notices.ts';

/** Who may come in, and tokens by which programs do. */
const ROLES: Readonly<Record<Role, string>> = {
  owner: 'owner: everything',
  artist: 'artist: all of the work',
  reviewer: 'reviewer: looks and notes',
};
const SCOPES: Readonly<Record<Scope, string>> = {
  read: 'read',
  note: 'pin and answer notes',
  render: 'render',
  edit: 'change the work',
  manage: 'accounts and tokens',
};
const access = useAccess();
const notices = useNotices();
const router = useRouter();
const accounts = ref<Account[]>([]);
const tokens = ref<AccessToken[]>([]);
const secret = ref('');
const account = ref({ name: '', password: '', role: 'artist' });
const token = ref({ name: '', days: 90, scopes: ['read', 'render'] as Scope[] });
onMounted(
  () =>
    access.may('manage') &&
    notices.guard(async () => {
      [accounts.value, tokens.value] = await Promise.all([
        call('GET', '/access/accounts', 'accounts'),
        call('GET', '/access/tokens', 'tokens'),
      ]);
    }),
);
const addAccount = () =>
  notices.guard(async () => {
    accounts.value = await call('POST', '/access/accounts', 'accounts', account.value);
    account.value = { name: '', password: '', role: 'artist' };
  });
const removeAccount = (id: number) =>
  notices.guard(async () => (accounts.value = await call('DELETE', `/access/accounts/${id}`, 'accounts')));
const addToken = () =>
  notices.guard(async () => {
    const { name, days, scopes } = token.value;
    const made = await call('POST', '/access/tokens', 'madeToken', { name, scopes, ...(days > 0 ? { days } : {}) });
    secret.value = made.secret;
    tokens.value = [made.token, ...tokens.value];
    token.value.name = '';
  });
const removeToken = (id: number) =>
  notices.guard(async () => (tokens.value = await call('DELETE', `/access/tokens/${id}`, 'tokens')));
const own = ref({ current: '', next: '' });
const changePassword = () =>
  notices.guard(async () => {
    await call('PUT', '/access/password', 'accessSession', own.value);
    own.value = { current: '', next: '' };
    notices.add('The password is changed; elsewhere you are signed out.', 'calm');
  });
const leave = () =>
  notices.guard(async () => {
    await access.signOut();
    await router.push('/sign-in');
  });
const day = (text: string | null) => (text ? dayWords(text) : 'no end');
const stateOf = (one: AccessToken) =>
  one.revoked
    ? 'withdrawn'
    : one.expiresAt && Date.parse(one.expiresAt) < Date.now()
      ? 'run out'
      : `until ${day(one.expiresAt)}`;
</script>

<template>
  <div class="top-bar">
    <RouterLink class="word" to="/">Yarlop</RouterLink
    ><span class="trail"><RouterLink to="/">Projects</RouterLink> / <b>Access</b></span
    ><span class="spacer" /><button
      v-if="access.name !== null"
      class="btn btn-outline-secondary"
      type="button"
      @click="leave"
    >
      Sign out {{ access.name }}
    </button>
  </div>
  <main class="page wide">
    <h1>Access</h1>
    <p v-if="!access.asked" class="quiet">
      This service is reached from this machine only and asks nobody who they are. Bound to another address
      (YARLOP_HOST), or with YARLOP_SIGN_IN=yes, it does.
    </p>
    <template v-if="access.name !== null">
      <h2>Your password</h2>
      <form class="line" @submit.prevent="changePassword">
        <AppField
          v-model="own.current"
          label="Now"
          spoken="Password now"
          type="password"
          required
          autocomplete="current-password"
        />
        <AppField
          v-model="own.next"
          label="From now on"
          spoken="New password"
          type="password"
          required
          minlength="10"
          autocomplete="new-password"
        />
        <BButton type="submit" variant="outline-secondary">Change it</BButton>
      </form>
    </template>
    <p v-if="!access.may('manage')" class="quiet mt-3">
      You look{{ access.may('edit') ? ', work' : '' }} and note here; accounts and tokens are an owner’s.
    </p>
    <template v-else>
      <h2>Accounts</h2>
      <table>
        <tbody>
          <tr v-for="one in accounts" :key="one.id" :data-account="one.name">
            <th scope="row">{{ one.name }}</th>
            <td>{{ ROLES[one.role] }}</td>
            <td class="quiet">since {{ day(one.createdAt) }}</td>
            <td>
              <IconButton
                icon="trash"
                :label="`Remove ${one.name}`"
                title="Remove; signed out everywhere"
                @click="removeAccount(one.id)"
              />
            </td>
          </tr>
          <tr v-if="accounts.length === 0">
            <td colspan="4" class="quiet">There is none yet.</td>
          </tr>
        </tbody>
      </table>
      <form class="line" @submit.prevent="addAccount">
        <AppField
          v-model="account.name"
          label="Name"
          spoken="Name of the account"
          required
          maxlength="80"
          autocomplete="off"
        />
        <AppField
          v-model="account.password"
          label="Password"
          type="password"
          required
          minlength="10"
          autocomplete="new-password"
        />
        <label class="app-field"
          >As<AppSelect
            label="Role of the account"
            :value="account.role"
            :options="choicesOf(ROLES)"
            @choose="account.role = $event"
        /></label>
        <BButton type="submit" variant="outline-secondary">Make the account</BButton>
      </form>
      <h2>Tokens</h2>
      <p class="quiet">
        For programs: sent as <code>Authorization: Bearer …</code>, and to <code>bin/yarlop --token</code>.
      </p>
      <SecretLink v-if="secret" says="The token is shown this once:" :text="secret" />
      <table>
        <tbody>
          <tr v-for="one in tokens" :key="one.id" :data-token="one.name">
            <th scope="row">{{ one.name }}</th>
            <td>{{ one.scopes.map((scope) => SCOPES[scope]).join(', ') }}</td>
            <td class="quiet">{{ stateOf(one) }}</td>
            <td class="quiet">{{ one.usedAt ? `used ${day(one.usedAt)}` : 'not used yet' }}</td>
            <td>
              <IconButton
                v-if="!one.revoked"
                icon="x-circle"
                :label="`Withdraw ${one.name}`"
                title="Withdraw"
                @click="removeToken(one.id)"
              />
            </td>
          </tr>
          <tr v-if="tokens.length === 0">
            <td colspan="5" class="quiet">There is none yet.</td>
          </tr>
        </tbody>
      </table>
      <form class="line" @submit.prevent="addToken">
        <AppField
          v-model="token.name"
          label="Name"
          spoken="Name of the token"
          required
          maxlength="80"
          autocomplete="off"
        />
        <AppField v-model="token.days" label="Days, 0 for no end" type="number" min="0" max="3650" />
        <fieldset>
          <legend>May</legend>
          <AppCheck
            v-for="(words, scope) in SCOPES"
            :key="scope"
            :model-value="token.scopes.includes(scope)"
            @update:model-value="token.scopes = toggled(token.scopes, scope)"
            >{{ words }}</AppCheck
          >
        </fieldset>
        <BButton type="submit" variant="outline-secondary" :disabled="token.scopes.length === 0"
          >Make the token</BButton
        >
      </form>
    </template>
  </main>
</template>

<style scoped>
h2 {
  font-size: 16px;
  margin: 24px 0 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-bottom: 12px;
}
tr {
  border-top: 1px solid var(--line);
}
th,
td {
  padding: 6px 12px 6px 0;
  text-align: left;
}
th {
  width: 220px;
}
td:last-child:not(:first-child) {
  width: 40px;
  text-align: right;
}
.line {
  display: flex;
  gap: 14px;
  align-items: end;
  flex-wrap: wrap;
}
fieldset {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 32px;
  font-size: 13px;
}
legend {
  float: none;
  font-size: 13px;
  width: auto;
  margin: 0;
}
</style>
