/** Short notices at the foot of the page. */
import { reactive } from "vue";

export interface Notice {
  id: number;
  text: string;
  bad: boolean;
  undo: boolean;
}

export const notices = reactive<Notice[]>([]);
let next = 1;

/** Shows a notice for a few seconds; bad ones stay until they are put away. */
export function say(text: string, how: { bad?: boolean; undo?: boolean } = {}) {
  const notice = { id: next++, text, bad: how.bad ?? false, undo: how.undo ?? false };
  notices.splice(0, notices.length, notice);
  if (!notice.bad) setTimeout(() => dismiss(notice.id), 5000);
}

export function dismiss(id: number) {
  const at = notices.findIndex((n) => n.id === id);
  if (at >= 0) notices.splice(at, 1);
}
