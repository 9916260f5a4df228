import { ElMessage } from 'element-plus';
import { h } from 'vue';
import { ServerError } from './api.ts';

/** Messages cover no button of the bar over a stage. */
const BELOW_BAR = 46;

/** Tells something that the artist should know and need not answer. */
export function notify(text: string): void {
  ElMessage({
    type: 'warning',
    message: text,
    duration: 8000,
    showClose: true,
    grouping: true,
    offset: BELOW_BAR,
  });
}

/** Shows what went wrong, in the server's words where there are any. */
export function notifyError(error: unknown): void {
  const text =
    error instanceof ServerError
      ? `${error.title} ${error.detail}`
      : error instanceof Error
        ? error.message
        : String(error);
  ElMessage({
    type: 'error',
    message: text,
    duration: 8000,
    showClose: true,
    grouping: true,
    offset: BELOW_BAR,
  });
}

/** Tells what was done, and how it is taken back. */
export function tellUndo(text: string, undo: () => Promise<unknown>): void {
  const note = ElMessage({
    duration: 12_000,
    showClose: true,
    offset: BELOW_BAR,
    message: h('span', [
      `${text} `,
      h(
        'button',
        {
          class: 'plain-button undo-note',
          style: 'text-decoration: underline; font-weight: 600',
          onClick: () => {
            note.close();
            void undo().catch(notifyError);
          },
        },
        'Undo',
      ),
    ]),
  });
}
