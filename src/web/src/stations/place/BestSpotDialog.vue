<script setup lang="ts">
/** Where the sensors of a node should hang: turned where they are, the best place on the walls, and the runner-up. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type Sight } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";

const props = defineProps<{ sight: Sight }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const best = useQuery({
  queryKey: ["best-spots", site.key, computed(() => site.site.value?.revision), props.sight.node],
  queryFn: ({ signal }) =>
    answer(
      api.GET("/api/sites/{site}/place/best-spots", {
        params: { path: { site: site.key.value }, query: { node: props.sight.node } },
        signal,
      }),
    ),
});
const now = computed(() => site.plan.value?.place.coverage.rooms.find((r) => r.room === props.sight.room)?.share.value);
type Choice = NonNullable<typeof best.data.value>[number];
const name = (c: Choice) => (c.stays ? "Turned where it is" : `At ${c.spot.x}, ${c.spot.y} m`);

async function hang(c: Choice) {
  const done = await site.apply(`${props.sight.nodeLabel} ${c.stays ? "turned" : "hung elsewhere"}`, [
    { kind: "putSpot", spot: c.spot },
  ]);
  if (done.ok) emit("close");
}
</script>

<template>
  <AppDialog open :title="`Where should ${sight.nodeLabel} hang?`" @close="$emit('close')">
    <p v-if="best.isPending.value" class="text-faint" role="status">Trying places along the walls…</p>
    <p v-else-if="best.error.value" class="text-stop" role="alert">{{ best.error.value.message }}</p>
    <template v-else>
      <p v-if="now != null" class="mb-2">
        As it hangs, sensors see <span class="mono">{{ now.toFixed(0) }} %</span> of the room.
      </p>
      <ul class="divide-y divide-rule">
        <li
          v-for="c in best.data.value"
          :key="`${c.spot.x} ${c.spot.y} ${c.stays}`"
          class="flex flex-wrap items-center gap-x-4 gap-y-1 py-2"
        >
          <span class="mono w-16 text-right text-lg font-semibold">{{ c.sharePercent.toFixed(0) }} %</span>
          <span class="min-w-48 flex-1"
            >{{ name(c)
            }}<span class="block text-sm text-faint"
              >{{ c.spot.heightMetres }} m high, looks {{ c.looks }}{{ c.heatSources ? "; looks at a heater or vent" : ""
              }}{{ c.windows ? `; looks at ${c.windows === 1 ? "a window" : `${c.windows} windows`}` : "" }}</span
            ></span
          >
          <AppButton v-if="site.canWrite.value" small @click="hang(c)">{{ c.stays ? "Turn it" : "Hang it there" }}</AppButton>
        </li>
      </ul>
      <p class="mt-2 text-sm text-faint">
        Along the walls, not in doors, windows or beside antennas, at the height it has now. Somebody holds the ladder; drill no
        hole where a mains line may run.
      </p>
    </template>
  </AppDialog>
</template>
