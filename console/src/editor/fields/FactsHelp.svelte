<script lang="ts">
  // How a page states the facts that a text can contain, and values for trying them in the preview.
  import { useEditor } from "../context";

  let { id }: { id: string } = $props();
  const editor = useEditor();
  const facts = $derived(editor.widget?.facts ?? []);
  const stated = $derived(editor.sight.conditions.facts ?? {});
  const kebab = (name: string) => name.replace(/[A-Z]/g, (letter) => "-" + letter.toLowerCase());
  const example = $derived(`<body ${facts.map((f) => `data-fact-${kebab(f.name)}="${f.type == "switch" ? "true" : stated[f.name] || "Isa"}"`).join(" ")}>`);

  function state(name: string, value: string) {
    const next: Record<string, string> = { ...stated, [name]: value };
    if (!value) delete next[name];
    editor.sight.see({ facts: Object.keys(next).length ? next : undefined });
  }
</script>

<div class="mt-2 space-y-2.5 rounded-lg bg-sunk p-3 text-sm">
  <p>It shows on pages that state who the visitor is. Add this to an element around the widget. The page's template sets the values:</p>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
  <pre class="overflow-x-auto rounded bg-sheet p-2 font-mono text-[13px] whitespace-pre-wrap wrap-anywhere" tabindex="0" aria-label="Element that states the facts">{example}</pre>
  {#each facts as fact (fact.name)}
    {#if fact.type == "switch"}
      <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" checked={!!stated[fact.name]} onchange={(e) => state(fact.name, e.currentTarget.checked ? "true" : "")} />In the preview: {fact.label.en}</label>
    {:else}
      <label class="block" for="{id}-{fact.name}">In the preview: {fact.label.en}</label>
      <input id="{id}-{fact.name}" class="field" placeholder="Isa" maxlength="200" value={stated[fact.name] ?? ""} oninput={(e) => state(fact.name, e.currentTarget.value)} autocomplete="off" />
    {/if}
  {/each}
</div>
