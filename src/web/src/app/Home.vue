<script setup lang="ts">
/** The sites one is a member of, and a new one; goes on by itself where there is but one. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import TextField from "@/kit/TextField.vue";
import { useSession } from "./session";

const { session } = useSession();
const queries = useQueryClient();
const router = useRouter();
/** Asked for from within a site: then it stays. */
const asked = "sites" in useRoute().query;
const owns = computed(() => session.value?.sites.some((s) => s.role === "owner"));
const form = ref({ name: "", timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone });
const fault = ref("");
const busy = ref(false);
watch(
  session,
  (s) => {
    if (s?.sites.length === 1 && !asked)
      void router.replace(`/${s.sites[0]!.key}/${s.sites[0]!.role === "viewer" ? "watch" : "place"}`);
  },
  { immediate: true },
);
async function create() {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites", { body: form.value });
  busy.value = false;
  fault.value = data ? "" : sentence(error);
  if (!data) return;
  await queries.invalidateQueries({ queryKey: ["session"] });
  await router.push(`/${data.key}/place`);
}
</script>

<template>
  <main class="mx-auto mt-[12vh] max-w-md p-4">
    <h1 class="mb-3 text-2xl font-semibold">Your sites</h1>
    <ul class="sheet divide-y divide-rule">
      <li v-for="s in session?.sites ?? []" :key="s.key">
        <RouterLink :to="`/${s.key}/watch`" class="flex items-baseline justify-between gap-3 p-3 text-act hover:underline"
          >{{ s.name }} <span class="text-sm text-faint">{{ s.role }}</span></RouterLink
        >
      </li>
      <li v-if="!session?.sites.length" class="p-3">You are not a member of a site yet; its owner can add you.</li>
    </ul>
    <form v-if="owns" class="mt-6 flex flex-col gap-3" @submit.prevent="create">
      <h2 class="text-lg font-semibold">A new site</h2>
      <TextField v-model="form.name" label="Name" />
      <TextField v-model="form.timeZone" label="Time zone" />
      <p v-if="fault" role="alert" class="text-stop">{{ fault }}</p>
      <AppButton class="self-start" type="submit" :disabled="busy">Add the site</AppButton>
    </form>
  </main>
</template>
