<script lang="ts">
  // Settings that two people changed differently: shows both values in words, and lets the user
  // decide.
  import Button from "../ui/Button.svelte";
  import type { PocketEditor } from "./editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const draft = $derived(editor.draft);

  function words(path: string, value: unknown): string {
    const setting = editor.setting(path);
    if (value === undefined || value === null) return "as it is without a value";
    if (Array.isArray(value)) return value.every((v) => typeof v == "string") ? value.join(", ") : `${value.length} ${value.length == 1 ? "item" : "items"}`;
    const option = setting?.options?.find((o) => o.value == value);
    if (option) return option.label.en ?? option.value;
    if (typeof value == "boolean") return value ? "on" : "off";
    const text = typeof value == "object" ? JSON.stringify(value) : String(value).replace(/<[^>]+>/g, " ");
    return text.length > 120 ? `${text.slice(0, 119)}…` : text || "empty";
  }
</script>

{#each draft.collisions as { path, theirs, by } (path)}
  <div role="alert" class="border-b border-line bg-sunk px-5 py-4">
    <p class="font-medium">{by} also changed “{editor.label(path)}”.</p>
    <dl class="my-2.5 grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1 text-sm">
      <dt class="text-soft">Your version</dt>
      <dd class="wrap-anywhere">{words(path, draft.get(path))}</dd>
      <dt class="text-soft">Their version</dt>
      <dd class="wrap-anywhere">{words(path, theirs)}</dd>
    </dl>
    <div class="flex flex-wrap gap-2">
      <Button kind="plain" class="min-h-8 px-3 text-sm" onclick={() => draft.decide(path, true)}>Keep my version</Button>
      <Button kind="plain" class="min-h-8 px-3 text-sm" onclick={() => draft.decide(path, false)}>Use their version</Button>
    </div>
  </div>
{/each}
