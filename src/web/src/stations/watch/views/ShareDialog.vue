<script setup lang="ts">
/** Links that open this view and nothing else. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type ViewDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { moment } from "@/kit/format";
import { say } from "@/kit/notices";

const props = defineProps<{ view: ViewDesign }>();
defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const label = ref("");
const days = ref<number | null>(30);
const made = ref("");
const fault = ref("");
const times = [
  { value: 1, label: "1 day" },
  { value: 7, label: "7 days" },
  { value: 30, label: "30 days" },
  { value: 365, label: "a year" },
  { value: null, label: "until revoked" },
];
const query = useQuery({
  queryKey: ["shares", site.key],
  queryFn: () => answer(api.GET("/api/sites/{site}/shares", { params: { path: { site: site.key.value } } })),
});
const links = computed(() => (query.data.value ?? []).filter((l) => l.view === props.view.key));

async function make() {
  fault.value = "";
  const { data, error } = await api.POST("/api/sites/{site}/shares", {
    params: { path: { site: site.key.value } },
    body: { view: props.view.key, label: label.value, days: days.value },
  });
  if (!data) {
    fault.value = error && "reasons" in error ? error.reasons.join(" ") : sentence(error);
    return;
  }
  made.value = location.origin + data.path;
  label.value = "";
  await queries.invalidateQueries({ queryKey: ["shares"] });
}
async function revoke(id: number) {
  const { response, error } = await api.DELETE("/api/sites/{site}/shares/{id}", {
    params: { path: { site: site.key.value, id } },
  });
  if (!response.ok) say(sentence(error), { bad: true });
  await queries.invalidateQueries({ queryKey: ["shares"] });
}
async function copy() {
  try {
    await navigator.clipboard.writeText(made.value);
    say("Copied");
  } catch {
    say("The browser does not let it be copied; mark it and copy it by hand.", { bad: true });
  }
}
</script>

<template>
  <AppDialog open :title="`Share ${view.label}`" @close="$emit('close')">
    <form class="flex flex-col gap-3" @submit.prevent="make">
      <p class="text-sm text-faint">
        A link shows this view as it is now and live, without switches and without signing in. Whoever has it can look; it can be
        revoked at any time.
      </p>
      <div class="grid gap-3 sm:grid-cols-[1fr_10rem]">
        <TextField v-model="label" label="For whom" placeholder="Neighbour" :fault="fault" />
        <FormField v-slot="{ id }" label="Holds"><SelectBox :id="id" v-model="days" :options="times" label="Holds" /></FormField>
      </div>
      <AppButton kind="lead" type="submit" class="self-start">Make a link</AppButton>
      <div v-if="made" class="border border-rule p-2" data-link>
        <p class="mono text-sm break-all">{{ made }}</p>
        <p class="mt-1 flex items-center gap-2 text-sm text-faint">
          <AppButton small @click="copy">Copy</AppButton> shown this once
        </p>
      </div>
      <ul v-if="links.length" class="divide-y divide-rule border-t border-rule">
        <li v-for="l in links" :key="l.id" class="flex flex-wrap items-center justify-between gap-x-4 py-1.5">
          <span class="min-w-0">
            <strong>{{ l.label }}</strong>
            <span class="block text-sm text-faint">
              {{
                l.revokedMs !== null
                  ? `revoked ${moment(l.revokedMs, zone, true)}`
                  : l.expiresMs === null
                    ? "until revoked"
                    : `${l.holds ? "until" : "ran out"} ${moment(l.expiresMs, zone, true)}`
              }}, opened {{ l.uses }} {{ l.uses === 1 ? "time" : "times"
              }}<template v-if="l.lastUseMs">, last {{ moment(l.lastUseMs, zone, true) }}</template>
            </span>
          </span>
          <AppButton v-if="l.holds" small :aria-label="`Revoke ${l.label}`" @click="revoke(l.id)">Revoke</AppButton>
        </li>
      </ul>
    </form>
  </AppDialog>
</template>
