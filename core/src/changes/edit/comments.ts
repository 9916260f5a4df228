import type { ChangeList, Comment } from '../change.ts';
import { withChange, type Edited } from './edited.ts';

/** One more comment on a change, after those that are there. */
export const addComment = (list: ChangeList, id: string, comment: Comment): Edited => ({
  list: withChange(list, id, (c) => ({ ...c, comments: [...(c.comments ?? []), comment] })),
  words: 'Comment',
});

export const removeComment = (list: ChangeList, id: string, comment: string): Edited => ({
  list: withChange(list, id, (c) =>
    c.comments ? { ...c, comments: c.comments.filter((m) => m.id !== comment) } : c,
  ),
  words: 'Delete comment',
});
