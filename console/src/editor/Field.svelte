<script lang="ts">
  import type { Component } from "svelte";
  import type { Fault, Setting } from "../api/types";
  import Consequences from "./Consequences.svelte";
  import BrandChoice from "./BrandChoice.svelte";
  import { useEditor } from "./context";
  import AlignmentField from "./fields/AlignmentField.svelte";
  import BorderField from "./fields/BorderField.svelte";
  import ChoiceField from "./fields/ChoiceField.svelte";
  import ChoicesField from "./fields/ChoicesField.svelte";
  import ColourField from "./fields/ColourField.svelte";
  import DateField from "./fields/DateField.svelte";
  import DurationField from "./fields/DurationField.svelte";
  import FontField from "./fields/FontField.svelte";
  import GradientField from "./fields/GradientField.svelte";
  import GroupField from "./fields/GroupField.svelte";
  import HeadingField from "./fields/HeadingField.svelte";
  import IconField from "./fields/IconField.svelte";
  import ImageField from "./fields/ImageField.svelte";
  import LanguageField from "./fields/LanguageField.svelte";
  import LengthField from "./fields/LengthField.svelte";
  import LinkField from "./fields/LinkField.svelte";
  import ListField from "./fields/ListField.svelte";
  import MomentField from "./fields/MomentField.svelte";
  import MoneyField from "./fields/MoneyField.svelte";
  import NumberField from "./fields/NumberField.svelte";
  import RatingField from "./fields/RatingField.svelte";
  import RichField from "./fields/RichField.svelte";
  import ShadowField from "./fields/ShadowField.svelte";
  import SoundField from "./fields/SoundField.svelte";
  import SpacingField from "./fields/SpacingField.svelte";
  import SwitchField from "./fields/SwitchField.svelte";
  import TagsField from "./fields/TagsField.svelte";
  import TextField from "./fields/TextField.svelte";
  import type { FieldProps } from "./fields/types";

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

  // The field of each setting type: one file and one row here.
  const fields: Record<string, Component<FieldProps>> = {
    alignment: AlignmentField,
    border: BorderField,
    choice: ChoiceField,
    choices: ChoicesField,
    colour: ColourField,
    date: DateField,
    duration: DurationField,
    font: FontField,
    gradient: GradientField,
    group: GroupField,
    heading: HeadingField,
    icon: IconField,
    image: ImageField,
    items: ListField,
    language: LanguageField,
    length: LengthField,
    link: LinkField,
    list: ListField,
    moment: MomentField,
    money: MoneyField,
    number: NumberField,
    rating: RatingField,
    richText: RichField,
    shadow: ShadowField,
    sound: SoundField,
    spacing: SpacingField,
    switch: SwitchField,
    tags: TagsField,
    text: TextField,
    time: DateField,
  };
  // A label can refer to one control; a group of controls is labelled by it instead.
  const groups = ["alignment", "border", "choices", "gradient", "group", "image", "items", "list", "rating", "richText", "shadow", "sound", "spacing", "switch"];
  const FieldOf = $derived(fields[setting.type]);
  const id = $derived(`setting-${path.replaceAll("/", "-")}`);
  const single = $derived(!groups.includes(setting.type) && setting.control != "segments" && setting.control != "images");
  const fault = $derived(faults[path] ?? Object.entries(faults).find(([at]) => at.startsWith(path + "/") && setting.type != "list" && setting.type != "items")?.[1]);
  const smallFault = $derived(faults["small/" + path]);
  const editor = useEditor();
  const sampled = $derived(editor.sight?.sampled(path));
  const refers = $derived(["colour", "font", "image"].includes(setting.type));
  const brandName = $derived(refers ? editor.brandName(value) : "");
  const inherits = $derived(!!setting.inherit && setting.type != "font");
  const inherited = $derived(inherits && value == "inherit");
  // In the form's terms: replaces the service's keys by labels.
  const plainly = (f: Fault) => `${f.what} ${f.fix}`.replaceAll(`"${setting.key}"`, `“${setting.label.en}”`);
  const shared = $derived({ setting, describedby: `${id}-about`, path, faults });
</script>

<div class={["mb-5", setting.type == "switch" && "flex flex-wrap items-center justify-between gap-x-4"]} data-path={path}>
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
      {#if setting.type == "colour"}<span class="size-5 rounded border border-edge" style:background={String(at ?? "transparent")}></span>{/if}
      {#if setting.type == "image"}<img src={editor.library.address((at as { asset?: string } | null)?.asset ?? "")} alt="" class="h-7" />{/if}
      <span class="text-sm">{at === null ? "The brand has no value, so the default is used" : setting.type == "colour" ? at : setting.type == "font" ? "The brand's font" : "The brand's image"}</span>
    </div>
  {:else if !inherited}<FieldOf {...shared} {value} {id} invalid={!!fault} {onchange} />{/if}
  <div id="{id}-about" class={["w-full text-sm", (setting.help || fault || sampled) && setting.type != "switch" && "mt-1.5"]}>
    {#if fault}<p class="text-bad" role="alert">{plainly(fault)}</p>{:else if setting.help}<p class="text-soft">{setting.help.en}</p>{/if}
    {#if sampled}<p class="text-soft">The preview shows sample content that visitors do not see.</p>{/if}
  </div>
  {#if (setting.type == "choice" || setting.type == "switch") && !path.includes("/")}<Consequences {setting} {value} />{/if}
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
