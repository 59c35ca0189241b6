import { defineStore } from 'pinia';
import { ref } from 'vue';

export interface Notice {
  id: number;
  text: string;
  tone: 'alarm' | 'calm';
  action?: { label: string; run: () => void };
}

/** Short messages at the foot of the page. */
export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([]);
  let next = 1;

  function add(text: string, tone: Notice['tone'] = 'alarm', action?: Notice['action'], seconds = 9): void {
    const id = next++;
    notices.value = [
      ...notices.value.filter((n) => n.text !== text),
      { id, text, tone, ...(action ? { action } : {}) },
    ];
    setTimeout(() => dismiss(id), seconds * 1000);
  }
  function dismiss(id: number): void {
    notices.value = notices.value.filter((n) => n.id !== id);
  }
  /** Runs work and shows what went wrong with it. */
  async function guard<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work();
    } catch (error) {
      if ((error as Error).name !== 'AbortError') add((error as Error).message);
      return undefined;
    }
  }
  return { notices, add, dismiss, guard };
});
