<script setup lang="ts">
/** Signing in; what was typed stays when it fails. */
import { ref } from "vue";
import { api, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import TextField from "@/kit/TextField.vue";

const emit = defineEmits<{ done: [] }>();
const name = ref("");
const password = ref("");
const fault = ref("");
const busy = ref(false);

async function signIn() {
  fault.value = !name.value || !password.value ? "Write the name and the password." : "";
  if (fault.value) return;
  busy.value = true;
  const { error, response } = await api.POST("/api/session", { body: { name: name.value, password: password.value } });
  busy.value = false;
  if (response.ok) emit("done");
  else fault.value = error ? sentence(error) : "Too many tries; wait a minute.";
}
</script>

<template>
  <main class="mx-auto mt-[12vh] w-full max-w-sm p-4">
    <h1 class="mb-1 text-2xl font-semibold">Cenotic</h1>
    <p class="mb-5 text-faint">The workbench for networks of wireless sensor nodes.</p>
    <form class="sheet flex flex-col gap-3 p-4" @submit.prevent="signIn">
      <TextField v-model="name" label="Name" autocomplete="username" autofocus />
      <TextField v-model="password" label="Password" :fault="fault" type="password" autocomplete="current-password" />
      <AppButton kind="lead" type="submit" :disabled="busy">Sign in</AppButton>
    </form>
    <p class="mt-4 text-sm text-faint"><RouterLink class="underline" to="/notices">Licences</RouterLink></p>
  </main>
</template>
