<script lang="ts">
  // The differences, setting by setting, in the form's terms.
  import type { ValueChange } from "../../api/types";

  let { changes, empty = "There are no differences." }: { changes: ValueChange[]; empty?: string } = $props();
  const groups = $derived([...new Set(changes.map((c) => c.group))].map((name) => ({ name, changes: changes.filter((c) => c.group == name) })));
  const kinds: Record<string, string> = { added: "New", removed: "Deleted", changed: "Changed", moved: "Moved" };
</script>

{#snippet words(text: string, colour: boolean | undefined, old: boolean)}
  <span class={["wrap-anywhere", old && "text-soft"]}>{#if colour && text.startsWith("#")}<span class="me-1.5 inline-block size-3.5 rounded-sm border border-edge align-[-2px]" style:background={text}></span>{/if}{text || "nothing"}</span>
{/snippet}

{#if changes.length == 0}
  <p class="text-soft">{empty}</p>
{:else}
  {#each groups as group (group.name)}
    <h3 class="mt-4 mb-1 text-[13px] font-semibold tracking-wide text-teal first:mt-0">{group.name}</h3>
    <dl class="grid grid-cols-[minmax(7rem,30%)_minmax(0,1fr)] max-sm:grid-cols-1">
      {#each group.changes as change (change.key)}
        <dt class="border-t border-line py-2 pe-4 font-medium max-sm:pb-0">{change.label}</dt>
        <dd class="border-t border-line py-2 max-sm:border-0 max-sm:pt-0.5">
          {#if change.items?.length}
            <ul class="space-y-1">
              {#each change.items as item}
                <li>
                  <span class="text-sm text-soft">{kinds[item.kind]}:</span>
                  {item.name}
                  {#each item.what ?? [] as part (part.key)}<span class="block ps-4 text-sm"><span class="text-soft">{part.label}:</span> {@render words(part.before, part.colours, true)} → {@render words(part.after, part.colours, false)}</span>{/each}
                </li>
              {/each}
            </ul>
          {:else}
            {@render words(change.before, change.colours, true)} <span aria-label="becomes">→</span> {@render words(change.after, change.colours, false)}
          {/if}
        </dd>
      {/each}
    </dl>
  {/each}
{/if}
