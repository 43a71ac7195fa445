// The state that a form's fields share, without passing it through each of them.
import { getContext, setContext } from "svelte";
import type { PocketEditor } from "./editor.svelte";

const key = Symbol("editor");
export const provideEditor = (editor: PocketEditor) => setContext(key, editor);
export const useEditor = () => getContext<PocketEditor>(key);
