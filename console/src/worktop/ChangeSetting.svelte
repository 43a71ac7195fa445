<script lang="ts" module>
  export type Way = "rename" | "duplicate" | "delete";
</script>

<script lang="ts">
  // Renames, duplicates or removes a setting, and lists where it is used.
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import InLine from "./InLine.svelte";
  import { isKey, keyFrom } from "./refactor/key";
  import { declareChange, duplicateSetting, keysOf, removeSetting, renameSetting, usesOf } from "./refactor/setting";
  import type { At } from "./script";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, way, key, onclose, onopen }: { worktop: Worktop; way: Way; key: string; onclose: () => void; onopen: (at: At) => void } = $props();
  const setting = $derived(worktop.widget?.settings.find((s) => s.key == key));
  const label = $derived(setting?.label.en ?? Object.values(setting?.label ?? {})[0] ?? key);
  const files = $derived(worktop.files);
  const uses = $derived(usesOf(files, key));
  const taken = $derived(keysOf(files));
  // svelte-ignore state_referenced_locally: the dialog is created for each setting
  let name = $state(way == "rename" ? key : `${label} 2`);
  const plain = $derived(["string", "number"].includes(typeof setting?.default));
  let inline = $state(true);

  const wrong = $derived(
    way != "rename" || name == key ? "" : !isKey(name) ? "A key starts with a lower-case letter and has only letters and digits, at most 40. Example: cornerRadius." : taken.includes(name) ? `There is a setting ${name} already.` : "",
  );
  const titles: Record<Way, string> = { rename: "Rename", duplicate: "Duplicate", delete: "Delete" };

  // If customers have set it, a release must say what happens to their values.
  const released = $derived(worktop.releasedKeys.includes(key));
  function changed(changed: Record<string, string>, change: Record<string, unknown>) {
    if (released && changed["settings.json"]) changed["settings.json"] = declareChange(changed["settings.json"], change);
    return changed;
  }

  function go() {
    if (wrong || (way == "rename" && name == key)) return;
    if (way == "rename") worktop.folder.change(`renaming ${key} to ${name}`, changed(renameSetting(files, key, name), { rename: key, to: name }));
    else if (way == "duplicate") {
      const made = duplicateSetting(files, key, name || label);
      if (typeof made == "string") return void (worktop.notice = made);
      worktop.folder.change(`duplicating ${key}`, made.files);
      worktop.notice = `The setting “${name}” now exists as ${made.key}. Next, use it in the view or the stylesheet.`;
    } else {
      const gone = removeSetting(files, key, inline && plain);
      worktop.folder.change(`deleting ${key}`, changed(gone.files, { drop: key }));
      worktop.notice = gone.left.length ? `Deleted ${key}. It is still named in ${gone.left.length == 1 ? "1 place" : `${gone.left.length} places`}: see “Faults”.` : `Deleted ${key}.`;
    }
    onclose();
  }
</script>

<Box title="{titles[way]} “{label}”" {onclose} onsubmit={go}>
  {#if way == "rename"}
    <label class="block">
      <span class="mb-1 block font-medium">Key</span>
      <!-- svelte-ignore a11y_autofocus: it is what the dialog asks for -->
      <input class="field font-mono" bind:value={name} autofocus spellcheck="false" aria-invalid={!!wrong} aria-describedby="key-about" />
    </label>
    <p id="key-about" class={["mt-1 text-sm", wrong ? "text-bad" : "text-soft"]}>{wrong || `The key changes in the view, the stylesheet, the script, the starters and the sample.${released ? " Customers' values move along, with a note under changes in settings.json." : ""}`}</p>
  {:else if way == "duplicate"}
    <label class="block">
      <span class="mb-1 block font-medium">Label of the new setting</span>
      <!-- svelte-ignore a11y_autofocus: it is what the dialog asks for -->
      <input class="field" bind:value={name} autofocus maxlength="80" onfocus={(e) => e.currentTarget.select()} />
    </label>
    <p class="mt-1 text-sm text-soft">Key:  <code class="text-ink">{keyFrom(name, taken)}</code>. It gets the same default, limits and starter values.</p>
  {:else}
    {#if plain && uses.length}
      <label class="mb-4 flex items-baseline gap-2"><input type="checkbox" class="size-4 translate-y-0.5 accent-teal" bind:checked={inline} />{#if setting?.default === ""}Replace it with nothing, because its default is empty{:else}Replace it with its default: <code>{String(setting?.default)}{setting?.unit ?? ""}</code>{/if}</label>
    {/if}
    {#if released}<p class="text-sm text-soft">Customers may have values for it, so the change is noted in settings.json under <code>changes</code>. Their values are kept, but not shown.</p>{/if}
  {/if}
  {#if uses.length}
    <h3 class="mt-5 mb-1 font-medium">It is used in {uses.length} {uses.length == 1 ? "place" : "places"}</h3>
    <ul class="max-h-56 overflow-y-auto rounded-lg border border-line bg-sheet">
      {#each uses as u (`${u.path}${u.from}`)}
        <li class="flex items-baseline gap-3 border-b border-line px-3 py-1.5 last:border-0">
          <button
            type="button"
            class="shrink-0 rounded font-mono text-[13px] text-teal underline-offset-4 hover:underline"
            onclick={() => {
              onclose();
              onopen({ path: u.path, line: u.line, column: 1 });
            }}>{u.path}:{u.line}</button
          >
          <InLine text={files[u.path]} from={u.from} to={u.to} />
        </li>
      {/each}
    </ul>
  {:else}
    <p class="mt-4 text-sm text-soft">The view, the stylesheet and the scripts do not use it.</p>
  {/if}
  {#snippet actions()}
    <Button kind="plain" onclick={onclose}>Cancel</Button>
    <Button type="submit" kind={way == "delete" ? "grave" : "main"} disabled={!!wrong || (way == "rename" && name == key)}>{titles[way]}</Button>
  {/snippet}
</Box>
