<script lang="ts">
  import type { Component } from "svelte";
  import type { Fault, Setting } from "../api/types";
  import ChoiceField from "./fields/ChoiceField.svelte";
  import ColourField from "./fields/ColourField.svelte";
  import MomentField from "./fields/MomentField.svelte";
  import NumberField from "./fields/NumberField.svelte";
  import SwitchField from "./fields/SwitchField.svelte";
  import TextField from "./fields/TextField.svelte";
  import type { FieldProps } from "./fields/types";

  let { setting, value, fault, onchange }: { setting: Setting; value: unknown; fault?: Fault; onchange: (value: unknown) => void } = $props();

  // A setting type's field is one file and one row here.
  const fields: Record<string, Component<FieldProps>> = {
    text: TextField,
    number: NumberField,
    switch: SwitchField,
    choice: ChoiceField,
    colour: ColourField,
    moment: MomentField,
  };
  const FieldOf = $derived(fields[setting.type]);
  const id = $derived(`setting-${setting.key}`);
  // A label points at one control; a group of several is named by it instead.
  const single = $derived(setting.type != "switch" && setting.control != "segments");
</script>

<div class={["mb-5", setting.type == "switch" && "flex items-center justify-between gap-4"]}>
  <div class="mb-1.5 flex items-baseline justify-between gap-3">
    {#if single}
      <label id="{id}-label" for={id} class="font-medium">{setting.label.en}</label>
    {:else}
      <span id="{id}-label" class="font-medium">{setting.label.en}</span>
    {/if}
    {#if setting.required && (value === null || value === "")}<span class="text-sm text-warn">needed to publish</span>{/if}
  </div>
  <FieldOf {setting} {value} {id} describedby="{id}-about" invalid={!!fault} {onchange} />
  <div id="{id}-about" class={["text-sm", (setting.help || fault) && setting.type != "switch" && "mt-1.5"]}>
    {#if fault}<p class="text-bad" role="alert">{fault.what} {fault.mend}</p>{:else if setting.help}<p class="text-soft">{setting.help.en}</p>{/if}
  </div>
</div>
