<script setup lang="ts">
/** What was decided, built, measured and switched, by day; searched, written into with pictures, saved. */
import { keepPreviousData, useInfiniteQuery, useQueryClient } from "@tanstack/vue-query";
import { refDebounced } from "@vueuse/core";
import { computed, ref } from "vue";
import { api, answer, sentence, type LogEntry } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import FormField from "@/kit/FormField.vue";
import { say } from "@/kit/notices";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import LogDay from "./LogDay.vue";
import { keepPicture, mostPictures, small } from "./pictures";

const site = useSite();
const queries = useQueryClient();
const node = ref<string | null>(null);
const text = ref("");
const wanted = refDebounced(text, 300);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const nodes = computed(() => [
  { value: null as string | null, label: "all nodes" },
  ...(site.design.value?.nodes ?? []).map((n) => ({ value: n.key as string | null, label: n.label })),
]);
const query = useInfiniteQuery({
  queryKey: ["log", site.key, node, wanted, computed(() => site.site.value?.revision)],
  placeholderData: keepPreviousData,
  initialPageParam: undefined as number | undefined,
  refetchInterval: 30_000,
  queryFn: async ({ pageParam }) => {
    return answer(
      api.GET("/api/sites/{site}/log", {
        params: {
          path: { site: site.key.value },
          query: { node: node.value ?? undefined, text: wanted.value || undefined, before: pageParam },
        },
      }),
    );
  },
  getNextPageParam: (last) => (last.more ? last.entries[last.entries.length - 1]!.atMs : undefined),
});
const entries = computed(() => query.data.value?.pages.flatMap((p) => p.entries) ?? []);
const dayFormat = computed(
  () =>
    new Intl.DateTimeFormat("en-GB", {
      weekday: "short",
      day: "numeric",
      month: "long",
      year: "numeric",
      timeZone: zone.value,
    }),
);
const dayOf = (ms: number) => dayFormat.value.format(ms);
const days = computed(() => {
  const found = new Map<string, LogEntry[]>();
  for (const e of entries.value) found.set(dayOf(e.atMs), [...(found.get(dayOf(e.atMs)) ?? []), e]);
  return [...found];
});
const file = (format: string) => {
  const asked = new URLSearchParams();
  if (node.value) asked.set("node", node.value);
  if (wanted.value) asked.set("text", wanted.value);
  return `/api/sites/${site.key.value}/log/${format}?${asked}`;
};
const note = ref("");
const pictures = ref<File[]>([]);
function choose(e: Event) {
  pictures.value = [...((e.target as HTMLInputElement).files ?? [])].slice(0, mostPictures);
}
const fault = ref("");
const busy = ref(false);

/** The note with all its pictures, or nothing: what cannot be a picture is told before anything is written, and a note whose picture is refused is taken back. */
async function write() {
  busy.value = true;
  fault.value = await written().catch((e) => sentence(e));
  busy.value = false;
  if (fault.value) return;
  note.value = "";
  pictures.value = [];
  await queries.invalidateQueries({ queryKey: ["log"] });
}
async function written(): Promise<string> {
  const made = await Promise.all(pictures.value.map(small));
  const { data, error } = await api.POST("/api/sites/{site}/log", {
    params: { path: { site: site.key.value } },
    body: { text: note.value, node: node.value },
  });
  if (!data) return sentence(error);
  for (const picture of made) {
    const why = await keepPicture(site.key.value, data.id, picture);
    if (why) {
      await api.DELETE("/api/sites/{site}/log/notes/{id}", { params: { path: { site: site.key.value, id: data.id } } });
      return why;
    }
  }
  return "";
}
/** The entry that is being taken back: with many samples that takes a while. */
const takingBack = ref("");
async function takeBack(entry: LogEntry) {
  takingBack.value = entry.id;
  const { data, error } = await api.POST("/api/sites/{site}/log/entries/{entry}/take-back", {
    params: { path: { site: site.key.value, entry: entry.id } },
  });
  takingBack.value = "";
  fault.value = data ? "" : sentence(error);
  if (data) say(data.says);
  for (const key of ["log", "readings", "line", "lane"]) void queries.invalidateQueries({ queryKey: [key] });
}
async function remove(entry: LogEntry) {
  const { error, response } = await api.DELETE("/api/sites/{site}/log/notes/{id}", {
    params: { path: { site: site.key.value, id: Number(entry.id.slice("note-".length)) } },
  });
  fault.value = response.ok ? "" : sentence(error);
  await queries.invalidateQueries({ queryKey: ["log"] });
}
</script>

<template>
  <div class="mb-4 grid max-w-3xl grid-cols-2 items-end gap-3 sm:grid-cols-[12rem_1fr_auto]">
    <FormField v-slot="{ id }" label="About"><SelectBox :id="id" v-model="node" :options="nodes" label="About" /></FormField>
    <TextField v-model="text" label="Search" type="search" placeholder="calibrated, soldered, cells" />
    <p class="col-span-2 flex gap-4 sm:col-span-1">
      <a :href="file('csv')" download class="inline-flex min-h-9 items-center text-act underline">CSV</a>
      <a :href="file('md')" download class="inline-flex min-h-9 items-center text-act underline">Markdown</a>
    </p>
  </div>
  <form v-if="site.canWrite.value" class="mb-6 flex max-w-3xl flex-col gap-2" @submit.prevent="write">
    <FormField v-slot="{ id, described }" label="Note" :fault="fault">
      <textarea
        :id="id"
        v-model="note"
        rows="2"
        maxlength="4000"
        class="field w-full"
        :aria-describedby="described"
        placeholder="What a later you would want to know"
      />
    </FormField>
    <div class="flex flex-wrap items-center gap-3">
      <label
        class="inline-flex min-h-11 cursor-pointer items-center border border-faint px-3 focus-within:outline-2 hover:text-act"
      >
        <input :key="pictures.length" type="file" accept="image/*" multiple class="sr-only" data-pictures @change="choose" />
        {{ pictures.length ? `${pictures.length} ${pictures.length === 1 ? "picture" : "pictures"}` : "Pictures…" }}
      </label>
      <AppButton type="submit" class="min-h-11" :disabled="busy || !note.trim()"
        >Write it{{ node ? ` about ${site.design.value?.nodes.find((n) => n.key === node)?.label}` : "" }}</AppButton
      >
    </div>
  </form>
  <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
  <EmptyState
    v-else-if="query.data.value && !entries.length"
    :title="wanted || node ? 'Nothing found' : 'Nothing happened yet'"
    :text="
      wanted || node
        ? 'Other words, or all nodes, may find more.'
        : 'Edits, settings, scans, calibrations, starts, alerts and switching write themselves in here.'
    "
  />
  <LogDay
    v-for="[day, items] in days"
    :key="day"
    :day="day"
    :entries="items"
    :zone="zone"
    :busy="takingBack"
    @remove="remove"
    @take-back="takeBack"
  />
  <AppButton
    v-if="query.hasNextPage.value"
    class="mt-3 min-h-11"
    :disabled="query.isFetching.value"
    @click="query.fetchNextPage()"
    >Older ones</AppButton
  >
</template>
