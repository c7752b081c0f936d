<script setup lang="ts">
/** Another password: one's own with the current one, or a member's who lost theirs, by an owner. */
import { ref } from "vue";
import { api, sentence } from "@/api/client";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import { useSession } from "./session";

const { of = null, site = "" } = defineProps<{ /** The member; null for one's own. */ of?: string | null; site?: string }>();
const emit = defineEmits<{ close: []; done: [] }>();
const { refresh } = useSession();
const current = ref("");
const next = ref("");
const fault = ref("");
const busy = ref(false);

async function save() {
  busy.value = true;
  const { response, error } = of
    ? await api.PUT("/api/sites/{site}/members/{name}/password", {
        params: { path: { site, name: of } },
        body: { password: next.value },
      })
    : await api.PUT("/api/session/password", { body: { current: current.value, new: next.value } });
  busy.value = false;
  fault.value = response.ok ? "" : sentence(error);
  if (!response.ok) return;
  // The sign-in that goes on has another token.
  if (!of) await refresh();
  emit("done");
}
</script>

<template>
  <DialogForm
    :title="of ? `New password for ${of}` : 'Change password'"
    save="Set the password"
    :busy="busy"
    @save="save"
    @close="$emit('close')"
  >
    <TextField v-if="!of" v-model="current" label="Current password" type="password" autocomplete="current-password" autofocus />
    <TextField
      v-model="next"
      label="New password"
      type="password"
      autocomplete="new-password"
      hint="At least 10 characters: a few words that you remember."
      :fault="fault"
    />
    <p class="text-sm text-faint">
      {{
        of
          ? "Every device on which they are signed in is signed out."
          : "Every other device on which you are signed in is signed out."
      }}
    </p>
  </DialogForm>
</template>
