<script setup lang="ts">
/** Site, its clock, find, undo, palette and account. */
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/vue";
import { computed, ref } from "vue";
import { useSiteTime } from "@/live/clock";
import { moment } from "@/kit/format";
import { say } from "@/kit/notices";
import MembersDialog from "./MembersDialog.vue";
import PasswordDialog from "./PasswordDialog.vue";
import { usePalette } from "./palette";
import { useSession } from "./session";
import { useSite } from "./site";

defineEmits<{ find: []; list: [] }>();
const site = useSite();
const { session, signOut, signOutEverywhere } = useSession();
const { palette, toggle } = usePalette();
const now = useSiteTime(site);
const members = ref(false);
const password = ref(false);
const clock = computed(() => (site.design.value ? moment(now.value, site.design.value.settings.timeZone) : ""));
const speed = computed(() => site.site.value?.speed ?? 1);
function changed() {
  password.value = false;
  say("Your password is changed.");
}
const button = "min-h-9 rounded-sm px-2 hover:text-act disabled:opacity-40";
</script>

<template>
  <div class="sticky top-0 z-20 flex h-12 items-center gap-1 border-b border-rule bg-paper px-3 md:px-5" role="banner">
    <span class="truncate font-semibold">{{ site.design.value?.settings.name }}</span>
    <span class="mono ml-2 text-faint" :title="`Site time, ${site.design.value?.settings.timeZone}`">{{ clock }}</span>
    <span v-if="speed !== 1" class="ml-1 border border-clay px-1 text-sm text-clay" title="Site time runs faster than the clock"
      >×{{ speed }}</span
    >
    <span class="flex-1" />
    <button type="button" :class="button" title="Find anything (/)" @click="$emit('find')">Find</button>
    <button
      type="button"
      :class="button"
      :disabled="!site.undos.value.length"
      :title="site.undos.value.length ? `Undo: ${site.undos.value.at(-1)?.label} (z)` : 'Nothing to undo'"
      @click="site.undo"
    >
      Undo
    </button>
    <button
      type="button"
      :class="button"
      class="hidden sm:block"
      :disabled="!site.redos.value.length"
      title="Redo (Shift+z)"
      @click="site.redo"
    >
      Redo
    </button>
    <button type="button" :class="button" class="hidden sm:block" :aria-pressed="palette === 'night'" @click="toggle">
      {{ palette === "night" ? "Light" : "Night" }}
    </button>
    <Menu as="div" class="relative">
      <MenuButton :class="button">{{ session?.name }}</MenuButton>
      <MenuItems class="absolute right-0 mt-1 w-56 border border-rule bg-sheet py-1 shadow-lg focus:outline-none">
        <MenuItem v-slot="{ active }">
          <RouterLink to="/?sites" class="block px-3 py-2" :class="active ? 'bg-act text-onact' : ''">Your sites</RouterLink>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <a
            :href="`/api/sites/${site.key.value}/export`"
            class="block px-3 py-2"
            :class="active ? 'bg-act text-onact' : ''"
            download
            >Export the site as a file</a
          >
        </MenuItem>
        <MenuItem v-if="site.site.value?.role === 'owner'" v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="members = true"
          >
            Members
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="toggle"
          >
            {{ palette === "night" ? "Light palette" : "Night palette" }}
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="$emit('list')"
          >
            Shortcuts
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="password = true"
          >
            Change password
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="signOut"
          >
            Sign out
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button
            type="button"
            class="block w-full px-3 py-2 text-left"
            :class="active ? 'bg-act text-onact' : ''"
            @click="signOutEverywhere"
          >
            Sign out everywhere
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
    <MembersDialog v-if="members" @close="members = false" />
    <PasswordDialog v-if="password" @close="password = false" @done="changed" />
  </div>
</template>
