<script lang="ts">
  import { RadioGroup } from "bits-ui";
  import icons from "../../../../internal/icon/icons.json";
  import Button from "../../ui/Button.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  let open = $state(false);
  const names = Object.keys(icons) as (keyof typeof icons)[];
  const current = $derived((value as keyof typeof icons) || "");
</script>

{#snippet drawing(name: keyof typeof icons)}
  <svg viewBox="0 0 24 24" class="size-5" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true"><path d={icons[name]} /></svg>
{/snippet}

<div class="flex items-center gap-2">
  <Button kind="plain" {id} aria-expanded={open} onclick={() => (open = !open)}>{#if current}{@render drawing(current)}{current}{:else}None{/if}</Button>
  {#if current}<button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => onchange("")}>Clear</button>{/if}
</div>
{#if open}
  <RadioGroup.Root value={current} onValueChange={onchange} aria-label="{setting.label.en}: which icon" class="mt-2 grid grid-cols-9 gap-1 rounded-lg border border-line p-2">
    {#each names as name (name)}
      <RadioGroup.Item value={name} aria-label={name} title={name} class="grid aspect-square place-items-center rounded-md text-soft hover:bg-sunk hover:text-ink data-[state=checked]:bg-wash data-[state=checked]:text-ink">{@render drawing(name)}</RadioGroup.Item>
    {/each}
  </RadioGroup.Root>
{/if}
