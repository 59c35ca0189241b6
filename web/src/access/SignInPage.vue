<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import AppField from '../components/AppField.vue';
import { useAccess } from '../stores/access.ts';

/** Who are you? And, where nobody has an account yet, the first one. */
const access = useAccess();
const route = useRoute();
const router = useRouter();
const name = ref('');
const password = ref('');
const again = ref('');
const code = ref(route.hash.slice(1));
const first = ref(false);
const problem = ref('');
const busy = ref(false);
onMounted(async () => {
  const session = await access.load().catch((error: Error) => void (problem.value = error.message));
  first.value = session?.setUp ?? false;
  if (session && (!session.needed || session.name !== null)) await router.replace('/');
});
async function go(): Promise<void> {
  problem.value = first.value && password.value !== again.value ? 'The two passwords differ. Type the same twice.' : '';
  if (problem.value) return;
  busy.value = true;
  try {
    await (first.value
      ? access.setUp(code.value, name.value, password.value)
      : access.signIn(name.value, password.value));
    // Only ways within this service.
    const to = typeof route.query.to === 'string' && /^\/(?!\/)/.test(route.query.to) ? route.query.to : '/';
    await router.replace(to);
  } catch (error) {
    problem.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="top-bar"><span class="word">Yarlop</span></div>
  <main class="page door">
    <h1>{{ first ? 'The first account' : 'Sign in' }}</h1>
    <p v-if="first" class="quiet">
      It belongs to an owner, who makes accounts and tokens for others. The code stands where the service was started.
    </p>
    <form class="rows" @submit.prevent="go">
      <AppField v-if="first" v-model="code" label="Code" autocomplete="off" required />
      <AppField v-model="name" label="Name" autocomplete="username" required maxlength="80" />
      <AppField
        v-model="password"
        label="Password"
        type="password"
        :autocomplete="first ? 'new-password' : 'current-password'"
        :minlength="first ? 10 : 1"
        required
      />
      <AppField
        v-if="first"
        v-model="again"
        label="Password again"
        type="password"
        autocomplete="new-password"
        required
      />
      <p v-if="first" class="quiet m-0">At least ten characters.</p>
      <p v-if="problem" class="notice m-0" role="alert">{{ problem }}</p>
      <BButton type="submit" variant="primary" :disabled="busy">{{ first ? 'Make the account' : 'Sign in' }}</BButton>
    </form>
  </main>
</template>

<style scoped>
.door {
  max-width: 400px;
  padding-top: 60px;
}
form {
  gap: 12px;
  margin-top: 14px;
}
.app-field {
  font-size: 14px;
  font-weight: 560;
}
</style>
