<script setup lang="ts">
/** The first start: the code on the console makes the owner and the first site. */
import { ref } from "vue";
import { api, fieldOf, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import TextField from "@/kit/TextField.vue";

const emit = defineEmits<{ done: [] }>();
const form = ref({ code: "", name: "", password: "", siteName: "", timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone });
/** What was refused, by the field that it is about. */
const faults = ref<Record<string, string>>({});

async function create() {
  const { error, response } = await api.POST("/api/first-start", { body: form.value });
  if (response.ok) emit("done");
  else faults.value = { [fieldOf(error) ?? "other"]: sentence(error) };
}
</script>

<template>
  <main class="mx-auto mt-[8vh] w-full max-w-sm p-4">
    <h1 class="mb-1 text-2xl font-semibold">First start</h1>
    <p class="mb-4 text-faint">The code stands on the console where Cenotic was started.</p>
    <form class="sheet flex flex-col gap-3 p-4" @submit.prevent="create">
      <TextField v-model="form.code" label="Code" mono autocomplete="off" :fault="faults.code" />
      <TextField v-model="form.name" label="Your name" autocomplete="username" :fault="faults.name" />
      <TextField
        v-model="form.password"
        label="Password"
        hint="Ten characters or more."
        type="password"
        autocomplete="new-password"
        :fault="faults.password"
      />
      <TextField v-model="form.siteName" label="Name of the site" :fault="faults.siteName" />
      <TextField v-model="form.timeZone" label="Time zone" :fault="faults.timeZone" />
      <p v-if="faults.other" role="alert" class="text-sm text-stop">{{ faults.other }}</p>
      <AppButton kind="lead" type="submit">Start</AppButton>
    </form>
  </main>
</template>
