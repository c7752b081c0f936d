<script setup lang="ts">
/** How a radio is set: of one on the board its power alone. What both ends of modules must have alike is given to all radios of its channel. */
import { computed, ref } from "vue";
import type { DesignEdit, NodeDesign, PlannedLink, RadioDesign } from "@/api/client";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import { setNode } from "../bench/node-edits";

const props = defineProps<{ node: NodeDesign; links: PlannedLink[] }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const modem = computed(() => {
  const parts = site.catalogue.value?.parts ?? [];
  const modems = props.node.parts.map((p) => parts.find((c) => c.id === p.part)?.modem).filter((m) => !!m);
  return modems.find((m) => !m.oneWay) ?? modems[0];
});
/** Frequency and rate of a radio of the board are those of its standard, those of an on-off keyed transmitter are built in. */
const tunable = props.node.link === "longRange";
const onBoard = !tunable && props.node.link !== "onOffKeyed";
const lora = computed(() => !!modem.value && !modem.value.bitsPerSecond);
const blank = (n: number | null | undefined) => n ?? ("" as number | "");
const own = props.node.radio;
const form = ref({
  frequencyMegahertz: blank(own?.frequencyMegahertz),
  spreadingFactor: blank(own?.spreadingFactor),
  bandwidthKilohertz: blank(own?.bandwidthKilohertz),
  codingRate: blank(own?.codingRate),
  bitsPerSecond: blank(own?.bitsPerSecond),
  powerDbm: blank(own?.powerDbm),
  antennaGainDbi: blank(own?.antennaGainDbi),
  antennaFlat: own?.antennaFlat === true,
});
const together = computed(() => {
  const channel = props.links.find((l) => l.node === props.node.key)?.channel;
  const keys = new Set(props.links.filter((l) => l.channel === channel).flatMap((l) => [l.node, l.receiver]));
  return site.design.value!.nodes.filter((n) => keys.has(n.key) || n.key === props.node.key);
});
const faults = ref<Fault[]>([]);
const value = (n: number | "") => (typeof n === "number" ? n : null);
const usual = (n: number | null | undefined, unit: string) => (n === null || n === undefined ? "" : `Usual: ${n} ${unit}`.trim());

/** A radio with what is set here; null where all of it is as usual. */
function radioOf(was: RadioDesign | null | undefined, change: Partial<RadioDesign>): RadioDesign | null {
  const none = {
    frequencyMegahertz: null,
    spreadingFactor: null,
    bandwidthKilohertz: null,
    codingRate: null,
    bitsPerSecond: null,
    powerDbm: null,
    antennaGainDbi: null,
    antennaFlat: null,
  };
  const radio = { ...none, ...was, ...change };
  return Object.values(radio).every((v) => v === null) ? null : radio;
}

async function save() {
  faults.value = [];
  const f = form.value;
  const shared = {
    frequencyMegahertz: value(f.frequencyMegahertz),
    spreadingFactor: value(f.spreadingFactor),
    bandwidthKilohertz: value(f.bandwidthKilohertz),
    codingRate: value(f.codingRate),
    bitsPerSecond: value(f.bitsPerSecond),
  };
  const alone = {
    powerDbm: value(f.powerDbm),
    antennaGainDbi: value(f.antennaGainDbi),
    antennaFlat: f.antennaFlat || null,
  };
  const edits: DesignEdit[] = [
    setNode(props.node, { radio: radioOf(own, { ...shared, ...alone }) }),
    ...(!tunable ? [] : together.value.filter((n) => n.key !== props.node.key)).map((n) =>
      setNode(n, { radio: radioOf(n.radio, shared) }),
    ),
  ];
  const done = await site.apply(`Radio of ${props.node.label} set`, edits, true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="`Radio of ${node.label}`"
    save="Save"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <div v-if="tunable" class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="form.frequencyMegahertz"
        label="Frequency, MHz"
        field="radio.frequencyMegahertz"
        number
        :hint="usual(modem?.megahertz, 'MHz')"
      />
      <template v-if="lora">
        <TextField
          v-model="form.spreadingFactor"
          label="Spreading factor"
          field="radio.spreadingFactor"
          number
          :hint="`${usual(modem?.spreadingFactor, '')}. One more: 2.5 dB further, twice the time.`"
        />
        <TextField
          v-model="form.bandwidthKilohertz"
          label="Bandwidth, kHz"
          field="radio.bandwidthKilohertz"
          number
          :hint="usual(modem?.bandwidthKilohertz, 'kHz')"
        />
        <TextField
          v-model="form.codingRate"
          label="Coding rate, 4 of 4 +"
          field="radio.codingRate"
          number
          :hint="usual(modem?.codingRate, '')"
        />
      </template>
      <TextField
        v-else
        v-model="form.bitsPerSecond"
        label="Rate on the air, bit/s"
        field="radio.bitsPerSecond"
        number
        :hint="usual(modem?.bitsPerSecond, 'bit/s')"
      />
    </div>
    <p v-if="tunable" class="text-sm text-faint">
      Both ends need these alike: they are set on {{ together.map((n) => n.label).join(", ") }}. Empty: as usual.
    </p>
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-model="form.powerDbm"
        label="Power, dBm"
        field="radio.powerDbm"
        number
        :hint="onBoard ? 'Empty: the usual of the board.' : usual(modem?.powerDbm?.typ, 'dBm')"
      />
      <TextField
        v-model="form.antennaGainDbi"
        label="Antenna, dBi"
        field="radio.antennaGainDbi"
        number
        hint="Usual: 0 dBi. A short spring has -5 to -2, a half-wave dipole 2.15."
      />
    </div>
    <CheckBox
      v-model="form.antennaFlat"
      label="Its antenna lies flat"
      hint="Where the other end's stands upright, that takes 3 to 15 dB."
    />
    <p class="text-sm text-faint">
      Power and antenna are this node's alone. The law of your region limits both; never transmit without an antenna.
    </p>
  </DialogForm>
</template>
