<script setup lang="ts">
/** A table of a storage card or spreadsheet: chosen, looked at, mapped to readings, imported with its progress. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, onScopeDispose, ref } from "vue";
import { api, sentence, type CsvLayout, type ImportView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import { moment, percentOf } from "@/kit/format";
import ImportColumns, { type TableForm } from "./ImportColumns.vue";

const emit = defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const view = ref<ImportView>();
const form = ref<TableForm>();
const fault = ref("");
const sending = ref(false);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const over = computed(() => view.value && !["waiting", "running"].includes(view.value.stage));
const many = (n: number, word: string) => `${n.toLocaleString("en")} ${word}${n === 1 ? "" : "s"}`;

async function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (!file) return;
  sending.value = true;
  fault.value = "";
  try {
    const { data, error } = await api.POST("/api/sites/{site}/imports", {
      params: { path: { site: site.key.value }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body: unknown) => body as BodyInit,
      headers: { "Content-Type": "text/csv" },
    });
    if (!data) {
      fault.value = sentence(error);
      return;
    }
    const columns: Record<number, string> = {};
    for (const c of data.suggested) columns[c.index] = `${c.node}/${c.reading}`;
    view.value = data;
    form.value = {
      decimalComma: data.guess.decimalComma,
      timeColumn: data.guess.timeColumn ?? 0,
      time: data.guess.time ?? "iso8601",
      columns,
      ended: "",
    };
  } finally {
    sending.value = false;
  }
}

async function begin() {
  const v = view.value!;
  const f = form.value!;
  const layout: CsvLayout = {
    separator: v.guess.separator,
    decimalComma: f.decimalComma,
    hasHeader: v.guess.hasHeader,
    timeColumn: f.timeColumn,
    time: f.time,
    timeZone: site.design.value?.settings.timeZone ?? "Etc/UTC",
    columns: Object.entries(f.columns)
      .filter(([index, to]) => to && Number(index) !== f.timeColumn)
      .map(([index, to]) => ({ index: Number(index), node: to.split("/")[0]!, reading: to.slice(to.indexOf("/") + 1) })),
    endedMs: f.ended ? new Date(f.ended).getTime() : null,
  };
  const { data, error } = await api.POST("/api/sites/{site}/imports/{id}/begin", {
    params: { path: { site: site.key.value, id: v.id } },
    body: layout,
  });
  fault.value = data ? "" : sentence(error);
  if (data) view.value = data;
}

const timer = setInterval(async () => {
  if (view.value?.stage !== "running") return;
  const { data } = await api.GET("/api/sites/{site}/imports/{id}", {
    params: { path: { site: site.key.value, id: view.value.id } },
  });
  if (!data) return;
  view.value = data;
  if (data.stage !== "running") {
    void queries.invalidateQueries({ queryKey: ["readings"] });
    void queries.invalidateQueries({ queryKey: ["line"] });
    void queries.invalidateQueries({ queryKey: ["lane"] });
  }
}, 400);
onScopeDispose(() => clearInterval(timer));

const end = () =>
  api.DELETE("/api/sites/{site}/imports/{id}", { params: { path: { site: site.key.value, id: view.value!.id } } });

/** A table that waits is given up with the dialog; one that runs goes on. */
function close() {
  if (view.value && view.value.stage !== "running") void end();
  emit("close");
}
</script>

<template>
  <AppDialog open wide title="Import a table" @close="close">
    <div class="flex flex-col gap-4">
      <template v-if="!view">
        <FormField v-slot="{ id, described }" label="File" :fault="fault" hint="CSV with any separator, up to 512 MB.">
          <input
            :id="id"
            type="file"
            accept=".csv,.txt,.tsv,.log,text/csv,text/plain"
            class="field w-full"
            :disabled="sending"
            :aria-describedby="described"
            @change="choose"
          />
        </FormField>
        <p v-if="sending" role="status" class="text-faint">Sending the file…</p>
      </template>
      <template v-else-if="view.stage === 'waiting' && form">
        <h3 class="mono break-all">{{ view.fileName }}</h3>
        <p v-if="view.before" role="status">
          This file was imported already, by {{ view.before.who }} on
          <span class="mono">{{ moment(view.before.atMs, zone, true) }}</span> ({{ many(view.before.samples, "sample") }}). What
          has the same time and value is not stored twice.
        </p>
        <ImportColumns v-model="form" :guess="view.guess" />
        <p v-if="fault" class="text-sm text-stop" role="alert">{{ fault }}</p>
        <div class="flex gap-2">
          <AppButton kind="lead" @click="begin">Import it</AppButton>
          <AppButton @click="close">Cancel</AppButton>
        </div>
      </template>
      <template v-else>
        <div v-if="view.stage === 'running'">
          <label class="flex flex-col gap-1">
            <span>{{ view.fileName }}: {{ many(view.rows, "row") }} read, {{ many(view.new, "new sample") }}</span>
            <progress class="h-3 w-full accent-act" max="1" :value="view.readShare">
              {{ Math.round(percentOf(view.readShare)) }} %
            </progress>
          </label>
          <AppButton class="mt-2" @click="end">Stop; what is stored stays</AppButton>
        </div>
        <div v-else role="status">
          <p>
            <strong v-if="view.stage === 'done'">Imported.</strong>
            <strong v-else-if="view.stage === 'cancelled'">Stopped; what was stored stays.</strong>
            <strong v-else class="text-stop">Not imported whole: {{ view.fault }}</strong>
            {{ many(view.new, "new sample")
            }}<template v-if="view.stage === 'done'">, {{ view.known.toLocaleString("en") }} known before</template>,
            {{ view.refused.toLocaleString("en") }} left out.
          </p>
        </div>
        <ul v-if="view.refusals.length" class="max-h-56 overflow-y-auto text-sm" tabindex="0" aria-label="What was left out">
          <li v-for="(r, at) in view.refusals" :key="at">{{ r }}</li>
          <li v-if="view.refused > view.refusals.length" class="text-faint">
            and {{ view.refused - view.refusals.length }} more
          </li>
        </ul>
        <AppButton v-if="over" class="self-start" @click="close">Close</AppButton>
      </template>
    </div>
  </AppDialog>
</template>
