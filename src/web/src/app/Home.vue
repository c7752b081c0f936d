<script setup lang="ts">
/** Goes on to the one site there is, or lets choose. */
import { watch } from "vue";
import { useRouter } from "vue-router";
import { useSession } from "./session";

const { session } = useSession();
const router = useRouter();
watch(
  session,
  (s) => {
    if (s?.sites.length === 1) void router.replace(`/${s.sites[0]!.key}/${s.sites[0]!.role === "viewer" ? "watch" : "place"}`);
  },
  { immediate: true },
);
</script>

<template>
  <main class="mx-auto mt-[12vh] max-w-md p-4">
    <h1 class="mb-3 text-2xl font-semibold">Your sites</h1>
    <ul class="sheet divide-y divide-rule">
      <li v-for="s in session?.sites ?? []" :key="s.key">
        <RouterLink :to="`/${s.key}/watch`" class="block p-3 text-act hover:underline">{{ s.name }}</RouterLink>
      </li>
      <li v-if="!session?.sites.length" class="p-3">You are not a member of a site yet; its owner can add you.</li>
    </ul>
  </main>
</template>
