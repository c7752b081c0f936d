<script setup lang="ts">
/** The first start: the code on the console makes the owner and the first site. */
import { ref } from "vue";
import { api, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import TextField from "@/kit/TextField.vue";

const emit = defineEmits<{ done: [] }>();
const form = ref({ code: "", name: "", password: "", siteName: "", timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone });
const fault = ref("");

async function create() {
  const { error, response } = await api.POST("/api/first-start", { body: form.value });
  if (response.ok) emit("done");
  else fault.value = sentence(error);
}
</script>

<template>
  <main class="mx-auto mt-[8vh] w-full max-w-sm p-4">
    <h1 class="mb-1 text-2xl font-semibold">First start</h1>
    <p class="mb-4 text-faint">The code stands on the console where Cenotic was started.</p>
    <form class="sheet flex flex-col gap-3 p-4" @submit.prevent="create">
      <TextField v-model="form.code" label="Code" mono autocomplete="off" />
      <TextField v-model="form.name" label="Your name" autocomplete="username" />
      <TextField
        v-model="form.password"
        label="Password"
        hint="Ten characters or more."
        type="password"
        autocomplete="new-password"
      />
      <TextField v-model="form.siteName" label="Name of the site" />
      <TextField v-model="form.timeZone" label="Time zone" :fault="fault" />
      <AppButton kind="lead" type="submit">Start</AppButton>
    </form>
  </main>
</template>
