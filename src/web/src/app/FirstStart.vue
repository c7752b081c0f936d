<script setup lang="ts">
/** The first start: the code on the console makes the owner and the first site. */
import { ref } from "vue";
import { api, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import FormField from "@/kit/FormField.vue";

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
      <FormField v-slot="{ id }" label="Code"
        ><input :id="id" v-model="form.code" class="field mono" autocomplete="off"
      /></FormField>
      <FormField v-slot="{ id }" label="Your name"
        ><input :id="id" v-model="form.name" class="field" autocomplete="username"
      /></FormField>
      <FormField v-slot="{ id }" label="Password" hint="Ten characters or more.">
        <input :id="id" v-model="form.password" type="password" class="field" autocomplete="new-password" />
      </FormField>
      <FormField v-slot="{ id }" label="Name of the site"><input :id="id" v-model="form.siteName" class="field" /></FormField>
      <FormField v-slot="{ id }" label="Time zone" :fault="fault"
        ><input :id="id" v-model="form.timeZone" class="field"
      /></FormField>
      <AppButton kind="lead" type="submit">Start</AppButton>
    </form>
  </main>
</template>
