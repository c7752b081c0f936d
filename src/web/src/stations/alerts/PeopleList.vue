<script setup lang="ts">
/** Who may be told, with their ways; and the notices that went out. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type OutboxView, type PersonDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { moment } from "@/kit/format";
import { say } from "@/kit/notices";
import NoticeSettings from "./NoticeSettings.vue";
import PersonDialog from "./PersonDialog.vue";
import { quietSentence } from "./tell";

const site = useSite();
const queries = useQueryClient();
const edited = ref<PersonDesign | "new">();
const settings = ref(false);
const people = computed(() => site.design.value?.people ?? []);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const isOwner = computed(() => site.site.value?.role === "owner");
const query = useQuery({
  queryKey: ["notices", site.key],
  queryFn: () => answer(api.GET("/api/sites/{site}/notices", { params: { path: { site: site.key.value } } })),
});
const words: Record<string, string> = { mail: "mail", text: "text", webhook: "webhook" };

async function test(p: PersonDesign) {
  const { response, error } = await api.POST("/api/sites/{site}/people/{person}/test", {
    params: { path: { site: site.key.value, person: p.key } },
  });
  say(response.ok ? `A test is on its way to ${p.name}` : sentence(error), { bad: !response.ok });
  await queries.invalidateQueries({ queryKey: ["notices"] });
}
async function remove(p: PersonDesign) {
  await site.apply(`${p.name} removed; rules that tell them tell nobody in their place`, [{ kind: "removePerson", key: p.key }]);
}
const outcome = (o: OutboxView) =>
  o.taken
    ? "taken"
    : o.done
      ? "given up"
      : o.tries
        ? `tried ${o.tries} ${o.tries === 1 ? "time" : "times"}, on its way`
        : "on its way";
</script>

<template>
  <div class="mb-2 flex flex-wrap gap-2">
    <AppButton v-if="site.canWrite.value" kind="lead" @click="edited = 'new'">New person</AppButton>
    <AppButton v-if="isOwner" @click="settings = true">Ways out</AppButton>
  </div>
  <EmptyState
    v-if="!people.length"
    title="Nobody to tell yet"
    text="Add a person with a mail address, a telephone number or a webhook; then choose them in a rule."
  />
  <ul v-else class="mb-6 divide-y divide-rule border-y border-rule">
    <li
      v-for="p in people"
      :key="p.key"
      class="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 py-2"
      :data-person="p.key"
    >
      <div class="min-w-0">
        <h3 class="font-semibold">{{ p.name }}</h3>
        <p v-for="w in p.ways" :key="w.address" class="break-all">
          <span class="text-faint">{{ words[w.kind] }}</span> <span class="mono">{{ w.address }}</span>
        </p>
        <p v-if="p.quiet" class="text-sm text-faint">quiet {{ quietSentence(p.quiet) }}</p>
      </div>
      <div v-if="site.canWrite.value" class="flex gap-1">
        <AppButton small :aria-label="`Test ${p.name}`" @click="test(p)">Test</AppButton>
        <AppButton small :aria-label="`Edit ${p.name}`" @click="edited = p">Edit</AppButton>
        <AppButton small :aria-label="`Remove ${p.name}`" @click="remove(p)">Remove</AppButton>
      </div>
    </li>
  </ul>
  <section v-if="query.data.value?.length">
    <h2 class="mb-1 border-b border-rule pb-1 text-lg font-semibold">Notices</h2>
    <ul class="divide-y divide-rule">
      <li v-for="o in query.data.value" :key="o.id" class="grid gap-x-4 py-1.5 sm:grid-cols-[9rem_minmax(0,1fr)_auto]">
        <span class="mono text-faint">{{ moment(o.atMs, zone, true) }}</span>
        <span class="min-w-0">
          {{ o.tells }} <span class="text-faint">to {{ o.person }} by {{ words[o.way] }}</span>
          <span v-if="o.result && !o.taken" class="block text-sm text-faint">{{ o.result }}</span>
        </span>
        <span class="text-sm"
          ><SeverityMark :severity="o.taken ? 'fine' : o.done ? 'stop' : o.tries ? 'risk' : 'note'" /> {{ outcome(o)
          }}<template v-if="o.maybeTwice">, may have been sent twice</template></span
        >
      </li>
    </ul>
  </section>
  <PersonDialog v-if="edited" :person="edited === 'new' ? undefined : edited" @close="edited = undefined" />
  <NoticeSettings v-if="settings" @close="settings = false" />
</template>
