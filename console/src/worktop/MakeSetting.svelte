<script lang="ts">
  // Makes a setting from a value: enter a label and press Enter.
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import InLine from "./InLine.svelte";
  import type { Found } from "./refactor/find";
  import { keyFrom } from "./refactor/key";
  import { keysOf, makeSetting } from "./refactor/setting";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, found, onclose }: { worktop: Worktop; found: Found; onclose: () => void } = $props();
  // svelte-ignore state_referenced_locally: the dialog is created for each value
  let label = $state(found.label);
  // svelte-ignore state_referenced_locally
  let chosen = $state(found.places.map((p, i) => i == 0 || p.likely));
  let trouble = $state("");
  const files = $derived(worktop.files);
  const key = $derived(keyFrom(label, keysOf(files)));

  function make() {
    const made = makeSetting(
      files,
      found,
      label || "Setting",
      found.places.filter((_, i) => chosen[i]),
      worktop.widget?.languages[0] ?? "en",
    );
    if (typeof made == "string") return void (trouble = made);
    worktop.folder.change(`making ${found.text.slice(0, 40)} the setting “${label}”`, made.files);
    worktop.notice = `${found.text.slice(0, 40)} is now the setting “${label}”. Its key is ${made.key}.`;
    onclose();
  }
</script>

<Box title="Make setting" about="Customers can then change it. The present value becomes the default." {onclose} onsubmit={make}>
  <p class="mb-4 flex items-center gap-3 rounded-lg bg-sunk px-3 py-2 font-mono text-[13px]">
    {#if found.inferred.type == "colour"}<span class="size-5 shrink-0 rounded border border-edge" style:background={String(found.inferred.schema.default)}></span>{/if}
    <span class="min-w-0 truncate">{found.text}</span>
    <span class="ms-auto shrink-0 font-sans text-soft">{found.inferred.about}</span>
  </p>
  <label class="block">
    <span class="mb-1 block font-medium">Label</span>
    <!-- svelte-ignore a11y_autofocus: it is what the dialog asks for -->
    <input class="field" bind:value={label} autofocus maxlength="80" onfocus={(e) => e.currentTarget.select()} />
    <span class="mt-1 block text-sm text-soft">Key:  <code class="text-ink">{key}</code>{#if found.inferred.glass.look}, in the stylesheet <code class="text-ink">var(--{key.replace(/[A-Z]/g, (c) => "-" + c.toLowerCase())})</code>{/if}.</span>
  </label>
  {#if found.places.length > 1}
    <fieldset class="mt-5">
      <legend class="mb-1 font-medium">The same value is in {found.places.length} places</legend>
      <ul class="max-h-56 overflow-y-auto rounded-lg border border-line bg-sheet">
        {#each found.places as p, i (`${p.path}${p.from}`)}
          <li class="border-b border-line last:border-0">
            <label class="flex items-baseline gap-3 px-3 py-1.5">
              <input type="checkbox" class="size-4 shrink-0 translate-y-0.5 accent-teal" bind:checked={chosen[i]} disabled={i == 0} />
              <span class="shrink-0 font-mono text-[13px] text-teal">{p.path}:{p.line}</span>
              <InLine text={worktop.folder.text(p.path)} from={p.from} to={p.to} />
            </label>
          </li>
        {/each}
      </ul>
    </fieldset>
  {/if}
  {#if trouble}<p role="alert" class="mt-4 text-bad">{trouble}</p>{/if}
  {#snippet actions()}
    <Button kind="plain" onclick={onclose}>Cancel</Button>
    <Button type="submit">Make setting</Button>
  {/snippet}
</Box>
