<script setup lang="ts">
/** Takes an episode up, with a note of what was found. */
import { useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import { api, sentence, type EpisodeView } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";

const props = defineProps<{ episode: EpisodeView }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const note = ref("");
const fault = ref("");
const busy = ref(false);

async function save() {
  busy.value = true;
  const { error, response } = await api.POST("/api/sites/{site}/episodes/{id}/acknowledge", {
    params: { path: { site: site.key.value, id: props.episode.id } },
    body: { note: note.value },
  });
  busy.value = false;
  if (!response.ok) {
    fault.value = sentence(error);
    return;
  }
  await queries.invalidateQueries({ queryKey: ["episodes"] });
  emit("close");
}
</script>

<template>
  <DialogForm :title="episode.label" save="Acknowledge" :busy="busy" @close="$emit('close')" @save="save">
    <TextField
      v-model="note"
      label="What you found"
      hint="May stay empty. Reminders end, and nobody else is called."
      :fault="fault"
    />
  </DialogForm>
</template>
