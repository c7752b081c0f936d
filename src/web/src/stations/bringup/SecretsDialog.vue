<script setup lang="ts">
/** A node's key and what its Wi-Fi wants, as a header for its program: shown once. */
import { ref } from "vue";
import { api, sentence, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import TextField from "@/kit/TextField.vue";
import { saveFile } from "@/kit/save-file";

const props = defineProps<{ node: NodeDesign; hasKey: boolean }>();
defineEmits<{ close: [] }>();
const site = useSite();
const form = ref({ network: "", password: "" });
const made = ref<{ name: string; text: string }>();
const fault = ref("");
const busy = ref(false);
const copied = ref(false);

async function make() {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/secrets", {
    params: { path: { site: site.key.value, node: props.node.key } },
    body: { network: form.value.network || null, password: form.value.password || null },
  });
  busy.value = false;
  fault.value = data ? "" : sentence(error);
  made.value = data;
}
const save = () => saveFile(made.value!.name, new Blob([made.value!.text], { type: "text/plain" }));
async function copy() {
  await navigator.clipboard.writeText(made.value!.text);
  copied.value = true;
}
</script>

<template>
  <AppDialog open :title="`Secrets of ${node.label}`" @close="$emit('close')">
    <div v-if="made" class="flex flex-col gap-3">
      <p>Shown once: save it now. The server keeps no more than a fingerprint of the key.</p>
      <pre class="mono overflow-auto border border-rule bg-paper p-2 text-sm" tabindex="0">{{ made.text }}</pre>
      <div class="flex flex-wrap gap-2">
        <AppButton kind="lead" class="min-h-11" @click="save">Save {{ made.name }}</AppButton>
        <AppButton class="min-h-11" @click="copy">{{ copied ? "Copied" : "Copy" }}</AppButton>
      </div>
    </div>
    <form v-else class="flex flex-col gap-3" novalidate @submit.prevent="make">
      <template v-if="node.link === 'wifi'">
        <TextField
          v-model="form.network"
          label="Wi-Fi network"
          autocomplete="off"
          hint="Not kept here. Leave it empty to fill it in yourself."
        />
        <TextField v-model="form.password" label="Its password" type="password" autocomplete="off" />
      </template>
      <p v-if="hasKey" class="border-l-2 border-risk pl-2">
        A new key is made. The one the node has now ends at once: it is silent until it is flashed with the new one.
      </p>
      <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
      <div class="flex gap-2">
        <AppButton :kind="hasKey ? 'grave' : 'lead'" type="submit" class="min-h-11" :disabled="busy">Make its secrets</AppButton>
        <AppButton class="min-h-11" @click="$emit('close')">Cancel</AppButton>
      </div>
    </form>
  </AppDialog>
</template>
