<script setup lang="ts">
/** Who may see what: first start, sign-in, or the workbench. */
import { useRoute } from "vue-router";
import AppButton from "@/kit/AppButton.vue";
import FirstStart from "./FirstStart.vue";
import { usePalette } from "./palette";
import { useSession } from "./session";
import SignIn from "./SignIn.vue";

const route = useRoute();
usePalette();
const { session, loading, failed, refresh } = useSession();
</script>

<template>
  <RouterView v-if="route.meta.open" />
  <p v-else-if="loading" class="p-6 text-faint" role="status">Opening the workbench…</p>
  <div v-else-if="failed" class="flex flex-col items-start gap-3 p-6">
    <p role="alert">{{ failed }}</p>
    <AppButton kind="lead" @click="refresh">Try again</AppButton>
  </div>
  <FirstStart v-else-if="session?.firstStart" @done="refresh" />
  <SignIn v-else-if="!session?.name" @done="refresh" />
  <RouterView v-else v-slot="{ Component }">
    <component :is="Component" v-if="route.path === '/'" />
    <Workbench v-else :key="String(route.params.site)"><component :is="Component" /></Workbench>
  </RouterView>
</template>

<script lang="ts">
import { defineAsyncComponent } from "vue";
const Workbench = defineAsyncComponent(() => import("./Workbench.vue"));
</script>
