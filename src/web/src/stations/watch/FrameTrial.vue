<script setup lang="ts">
/** Bytes that are pasted, read as a serial line would read them. */
import { ref } from "vue";
import { api, sentence, type FrameFormat, type TriedFrames } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import FormField from "@/kit/FormField.vue";

const props = defineProps<{ format: FrameFormat; framed: boolean }>();
const site = useSite();
const bytes = ref("");
const asText = ref(!props.framed);
const tried = ref<TriedFrames>();
const fault = ref("");

async function tryIt() {
  const { data, error } = await api.POST("/api/sites/{site}/lines/try", {
    params: { path: { site: site.key.value } },
    body: { format: props.format, bytes: bytes.value, asText: asText.value },
  });
  tried.value = data;
  fault.value = data ? "" : sentence(error);
}
</script>

<template>
  <section class="border-t border-rule pt-3">
    <h3 class="mb-1 font-semibold">Try it</h3>
    <FormField v-slot="{ id, described }" label="Bytes" :fault="fault">
      <textarea
        :id="id"
        v-model="bytes"
        rows="2"
        class="field mono w-full"
        :aria-describedby="described"
        :placeholder="asText ? 'Paste what the bridge writes' : '7E 0A …'"
      />
    </FormField>
    <div class="mt-2 flex flex-wrap items-center gap-4">
      <CheckBox v-model="asText" label="It is text, not hexadecimal digits" />
      <AppButton small @click="tryIt">Read the bytes</AppButton>
    </div>
    <div v-if="tried" class="mt-2" aria-live="polite">
      <p>
        <strong>{{ tried.frames.filter((f) => !f.refusal).length }}</strong>
        {{ tried.frames.filter((f) => !f.refusal).length === 1 ? "frame" : "frames" }}, {{ tried.skipped }} B belong to none,
        {{ tried.waiting }} B wait for more. A frame has up to {{ tried.longestFrame }} B.
      </p>
      <ol class="mt-1 flex max-h-48 flex-col gap-1 overflow-y-auto">
        <li v-for="(f, at) in tried.frames" :key="at" class="flex flex-wrap gap-x-3">
          <span class="mono max-w-full overflow-hidden text-sm text-ellipsis text-faint">{{ asText ? f.text : f.hex }}</span>
          <span v-if="f.refusal" class="text-stop">{{ f.refusal }}</span>
          <span v-for="v in f.values" :key="v.reading" class="mono"
            >{{ v.node }}/{{ v.reading }} = {{ v.value }} {{ v.unit }}</span
          >
        </li>
      </ol>
    </div>
  </section>
</template>
