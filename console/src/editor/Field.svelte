<script lang="ts">
  import type { Fault, Setting } from "../api/types";
  import Consequences from "./Consequences.svelte";
  import BrandChoice from "./BrandChoice.svelte";
  import { useEditor } from "./context";
  import { types } from "./fields/table";

  type Props = {
    setting: Setting;
    value: unknown;
    path: string;
    faults: Record<string, Fault>;
    onchange: (value: unknown) => void;
    // For a setting that can differ on small screens: its value there, undefined for the same.
    small?: unknown;
    onsmall?: (value: unknown) => void;
    // Whether it differs from its initial value, and a function that resets it.
    changed?: boolean;
    onreset?: () => void;
  };
  let { setting, value, path, faults, onchange, small, onsmall, changed = false, onreset }: Props = $props();

  const row = $derived(types[setting.type]);
  const FieldOf = $derived(row.field);
  const id = $derived(`setting-${path.replaceAll("/", "-")}`);
  const single = $derived(!row.several && setting.control != "segments" && setting.control != "images");
  const fault = $derived(faults[path] ?? Object.entries(faults).find(([at]) => at.startsWith(path + "/") && !row.many)?.[1]);
  const smallFault = $derived(faults["small/" + path]);
  const editor = useEditor();
  const sampled = $derived(editor.sight?.sampled(path));
  const refers = $derived(!!row.brand);
  const brandName = $derived(refers ? editor.brandName(value) : "");
  const inherits = $derived(!!setting.inherit && !row.inherits);
  const inherited = $derived(inherits && value == "inherit");
  // In the form's terms: replaces the service's keys by labels.
  const plainly = (f: Fault) => `${f.what} ${f.fix}`.replaceAll(`"${setting.key}"`, `“${setting.label.en}”`);
  const shared = $derived({ setting, describedby: `${id}-about`, path, faults });
</script>

<div class={["mb-5", row.beside && "flex flex-wrap items-center justify-between gap-x-4"]} data-path={path}>
  <div class="mb-1.5 flex items-baseline justify-between gap-3">
    <span class="min-w-0">
      {#if single}
        <label id="{id}-label" for={id} class="font-medium">{setting.label.en}</label>
      {:else}
        <span id="{id}-label" class="font-medium">{setting.label.en}</span>
      {/if}
      {#if changed && onreset}
        <span class="ms-1.5 inline-block size-2 rounded-full bg-teal" aria-hidden="true" title="Changed"></span><button type="button" class="ms-1.5 rounded text-[13px] text-soft underline underline-offset-4 hover:text-ink" onclick={onreset} aria-label="Reset {setting.label.en} to the starter's value">Reset</button>
      {/if}
    </span>
    {#if setting.required && (value === null || value === "")}<span class="text-sm text-warn">needed to publish</span>{/if}
    {#if refers}<BrandChoice {setting} {value} id="{id}-brand" {onchange} />{/if}
    {#if inherits && !brandName}
      <label class="flex items-center gap-2 text-sm text-soft">
        <input type="checkbox" class="size-4 accent-teal" checked={inherited} onchange={(e) => onchange(e.currentTarget.checked ? "inherit" : (setting.default == "inherit" ? null : (setting.default ?? null)))} />
        as the page has it
      </label>
    {/if}
  </div>
  {#if brandName}
    {@const at = editor.resolved(value)}
    <div {id} class="field flex items-center gap-2.5 bg-sunk" role="group" aria-labelledby="{id}-label">
      {#if row.brand?.as == "swatch"}<span class="size-5 rounded border border-edge" style:background={String(at ?? "transparent")}></span>{/if}
      {#if row.brand?.as == "image"}<img src={editor.library.address((at as { asset?: string } | null)?.asset ?? "")} alt="" class="h-7" />{/if}
      <span class="text-sm">{at === null ? "The brand has no value, so the default is used" : row.brand?.words || at}</span>
    </div>
  {:else}
    <!-- An inherited value can be replaced at once: entering one clears the checkbox. -->
    <div class={[inherited && "[&_.field]:border-dashed"]}><FieldOf {...shared} value={inherited ? (setting.default == "inherit" ? null : (setting.default ?? null)) : value} {id} invalid={!!fault} {onchange} /></div>
  {/if}
  <div id="{id}-about" class={["w-full text-sm", (setting.help || fault || sampled) && !row.beside && "mt-1.5"]}>
    {#if fault}<p class="text-bad" role="alert">{plainly(fault)}</p>{:else if setting.help}<p class="text-soft">{setting.help.en}</p>{/if}
    {#if sampled}<p class="text-soft">The preview shows sample content that visitors do not see.</p>{/if}
  </div>
  {#if row.decides && !path.includes("/")}<Consequences {setting} options={row.decides(setting)} {value} />{/if}
  {#if onsmall && !inherited}
    {#if small === undefined}
      <button type="button" class="mt-1 rounded text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => onsmall(value)}>Set a different value for small screens</button>
    {:else}
      <div class="mt-2 w-full rounded-lg bg-sunk p-3" data-path="small/{path}">
        <div class="mb-1.5 flex items-baseline justify-between gap-3 text-sm">
          {#if single}
            <label id="{id}-small-label" for="{id}-small">{setting.label.en} on small screens</label>
          {:else}
            <span id="{id}-small-label">{setting.label.en} on small screens</span>
          {/if}
          <button type="button" class="rounded text-soft underline underline-offset-4 hover:text-ink" onclick={() => onsmall(null)}>Use the same value everywhere</button>
        </div>
        <FieldOf {...shared} value={small} id="{id}-small" invalid={!!smallFault} onchange={onsmall} />
        {#if smallFault}<p class="mt-1.5 text-sm text-bad" role="alert">{plainly(smallFault)}</p>{/if}
      </div>
    {/if}
  {/if}
</div>
