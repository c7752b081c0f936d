/** What the margin shows besides findings: the working of a figure, or the choices of a wire. */
import { shallowRef, type Component } from "vue";
import type { Figure } from "@/api/client";

export interface MarginNote {
  title: string;
  figure?: Figure;
  component?: Component;
  props?: Record<string, unknown>;
}

const note = shallowRef<MarginNote>();

export function useMargin() {
  return {
    note,
    showFigure: (figure: Figure) => (note.value = { title: figure.label, figure }),
    show: (title: string, component: Component, props: Record<string, unknown>) => (note.value = { title, component, props }),
    close: () => (note.value = undefined),
  };
}
