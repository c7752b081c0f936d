<script setup lang="ts">
/** Boards, parts and cells: their pages, and the maker's own as text that is checked line by line. */
import { computed, ref } from "vue";
import { api, sentence, type DesignEdit, type FileFault } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import PartFacts from "./PartFacts.vue";

defineEmits<{ close: [] }>();
const site = useSite();
const query = ref("");
const chosen = ref<{ kind: "board" | "part" | "cell"; id: string }>();
const text = ref<string>();
const faults = ref<FileFault[]>([]);
const busy = ref(false);
const things = computed(() => {
  const c = site.catalogue.value;
  const all = [
    ...(c?.boards ?? []).map((b) => ({ kind: "board" as const, id: b.id, label: b.label, uses: "" })),
    ...(c?.parts ?? []).map((p) => ({ kind: "part" as const, id: p.id, label: p.label, uses: (p.uses ?? []).join(" ") })),
    ...(c?.cells ?? []).map((e) => ({ kind: "cell" as const, id: e.id, label: e.label, uses: `${e.chemistry} battery` })),
  ];
  return all.filter((t) => `${t.id} ${t.label} ${t.uses}`.toLowerCase().includes(query.value.toLowerCase()));
});
const part = computed(() =>
  chosen.value?.kind === "part" ? site.catalogue.value?.parts.find((p) => p.id === chosen.value!.id) : undefined,
);
const board = computed(() =>
  chosen.value?.kind === "board" ? site.catalogue.value?.boards.find((b) => b.id === chosen.value!.id) : undefined,
);
const cell = computed(() =>
  chosen.value?.kind === "cell" ? site.catalogue.value?.cells.find((e) => e.id === chosen.value!.id) : undefined,
);
const own = computed(() => !!chosen.value && (site.catalogue.value?.own.includes(chosen.value.id) ?? false));

function edit() {
  const source = part.value ?? board.value ?? cell.value;
  if (!source) return;
  const copy = own.value ? source : { ...source, id: `my-${source.id}`.slice(0, 40), label: `My ${source.label}`.slice(0, 80) };
  text.value = JSON.stringify(copy, null, 2);
  faults.value = [];
}

async function take(e: Event) {
  const input = e.target as HTMLInputElement;
  const file = input.files?.[0];
  if (file) text.value = await file.text();
  faults.value = [];
  input.value = "";
}

async function save() {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/hardware/check", {
    params: { path: { site: site.key.value } },
    body: { json: text.value! },
  });
  busy.value = false;
  if (!data) {
    faults.value = [{ line: 0, member: "file", rule: sentence(error) }];
    return;
  }
  faults.value = data.faults;
  const { board, part, cell } = data;
  const thing = board ?? part ?? cell;
  if (!thing) return;
  const edit: DesignEdit = board
    ? { kind: "putOwnBoard", board }
    : part
      ? { kind: "putOwnPart", part }
      : { kind: "putOwnCell", cell: cell! };
  const done = await site.apply(`${thing.label} is in your catalogue`, [edit]);
  if (!done.ok) faults.value = done.reasons.map((rule) => ({ line: 0, member: "file", rule }));
  else {
    chosen.value = { kind: board ? "board" : part ? "part" : "cell", id: thing.id };
    text.value = undefined;
  }
}

async function remove() {
  const { kind, id } = chosen.value!;
  chosen.value = undefined;
  await site.apply(`${id} removed from your catalogue`, [
    { kind: kind === "board" ? "removeOwnBoard" : kind === "part" ? "removeOwnPart" : "removeOwnCell", id },
  ]);
}
</script>

<template>
  <AppDialog open wide title="Catalogue" @close="$emit('close')">
    <template v-if="text !== undefined">
      <p class="mb-2 text-sm text-faint">
        A board, part or cell as JSON, by the schemas
        <a class="text-act underline" href="/api/schemas/part.json" target="_blank" rel="noopener">part.json</a>,
        <a class="text-act underline" href="/api/schemas/board.json" target="_blank" rel="noopener">board.json</a> and
        <a class="text-act underline" href="/api/schemas/cell.json" target="_blank" rel="noopener">cell.json</a>. What you do not
        know is null.
      </p>
      <textarea
        v-model="text"
        class="field mono h-[45vh] w-full text-sm"
        spellcheck="false"
        aria-label="Board, part or cell as JSON"
      />
      <ul v-if="faults.length" class="my-2 max-h-32 overflow-y-auto text-stop" role="alert">
        <li v-for="(f, at) in faults" :key="at">
          <template v-if="f.line">Line {{ f.line }}, </template><span class="mono">{{ f.member }}</span
          >: {{ f.rule }}
        </li>
      </ul>
      <div class="mt-2 flex gap-2">
        <AppButton kind="lead" :disabled="busy || site.busy.value" @click="save">Check and save</AppButton>
        <AppButton @click="text = undefined">Back</AppButton>
      </div>
    </template>
    <template v-else>
      <div class="mb-2 flex flex-wrap gap-2">
        <input
          v-model="query"
          class="field min-w-40 flex-1"
          placeholder="Part number, name or use"
          aria-label="Search the catalogue"
        />
        <label
          v-if="site.canWrite.value"
          class="inline-flex min-h-9 cursor-pointer items-center rounded-sm border border-faint px-3 focus-within:outline-2 hover:border-act hover:text-act"
          >Import a file<input type="file" accept="application/json,.json" class="sr-only" @change="take"
        /></label>
      </div>
      <div class="grid gap-4 sm:grid-cols-[14rem_minmax(0,1fr)]">
        <ul class="max-h-[55vh] overflow-y-auto border-y border-rule" :class="chosen ? 'hidden sm:block' : ''">
          <li v-for="t in things" :key="t.kind + t.id">
            <button
              type="button"
              class="block w-full px-2 py-1.5 text-left hover:bg-paper"
              :class="chosen?.id === t.id ? 'bg-paper font-semibold' : ''"
              @click="chosen = t"
            >
              {{ t.label }}<span v-if="site.catalogue.value?.own.includes(t.id)" class="ml-1 text-sm text-act">yours</span>
            </button>
          </li>
          <li v-if="!things.length" class="p-2 text-faint">Nothing has that in its name.</li>
        </ul>
        <div class="max-h-[55vh] min-w-0 overflow-y-auto">
          <p v-if="!chosen" class="hidden text-faint sm:block">
            Choose a board, part or cell to see its facts and where they come from.
          </p>
          <template v-else>
            <h3 class="mb-1 text-lg font-semibold">{{ part?.label ?? board?.label ?? cell?.label }}</h3>
            <p class="mb-2 flex flex-wrap gap-2">
              <AppButton class="sm:hidden" small @click="chosen = undefined">Back</AppButton>
              <AppButton v-if="site.canWrite.value" small @click="edit">{{
                own ? "Edit" : "Make one of your own from it"
              }}</AppButton>
              <a
                class="inline-flex min-h-8 items-center text-sm text-act underline"
                :href="`/api/sites/${site.key.value}/hardware/${chosen.kind}/${chosen.id}`"
                :download="`${chosen.id}.json`"
                >Export the file</a
              >
              <AppButton v-if="own && site.canWrite.value" small @click="remove">Remove</AppButton>
            </p>
            <PartFacts v-if="part" :part="part" />
            <template v-else-if="board">
              <p>{{ board.form }}. Logic {{ board.logicVolts }} V; a pin stands {{ board.pinMaxVolts }} V.</p>
              <p v-for="s in board.supplies" :key="s.id" class="text-sm">
                {{ s.label }}: {{ s.minVolts }} to {{ s.maxVolts }} V. {{ s.note }}
              </p>
              <p v-for="c in board.cautions" :key="c" class="mt-1 border-l-2 border-risk pl-2">{{ c }}</p>
            </template>
          </template>
        </div>
      </div>
    </template>
  </AppDialog>
</template>
