// Sources that somebody without an account has found. They are connected after signing up, because
// they belong to a customer.
import { sources as api } from "../api/sources";
import type { Listing, NewSource, SourceItem } from "../api/types";
import type { PocketEditor } from "../editor/editor.svelte";

export interface Wish {
  source: NewSource;
  items: SourceItem[]; // the first ones, for the preview
  count: number;
}
type Wishes = Record<string, Wish>; // by the key of the list

const name = (pocket: string) => `glass-pocket-wish:${pocket}`;

export const wishes = {
  get(pocket: string): Wishes {
    try {
      return JSON.parse(sessionStorage.getItem(name(pocket)) ?? "{}") as Wishes;
    } catch {
      return {};
    }
  },
  set(pocket: string, list: string, wish: Wish | null) {
    const all = wishes.get(pocket);
    if (wish) all[list] = wish;
    else delete all[list];
    try {
      sessionStorage.setItem(name(pocket), JSON.stringify(all));
    } catch {
      // Storage is full or refused: the source has to be connected again after signing up.
    }
  },
};

// Connects them for the pocket's new owner.
export async function fulfil(editor: PocketEditor) {
  for (const [list, wish] of Object.entries(wishes.get(editor.key))) {
    const made = await api.connect(editor.pocket!.customer, wish.source);
    const all = (editor.draft.about.sources ?? {}) as Record<string, Listing>;
    editor.draft.change(`Add ${made.name}`, { "pocket/sources": { ...all, [list]: { ...all[list], from: [{ source: made.id }] } } }, true);
    wishes.set(editor.key, list, null);
  }
  await editor.draft.save();
}
