<script lang="ts">
  // Which column or value fills which field of an item.
  import type { Outline } from "../api/types";

  let { outline, mapping, onchange }: { outline: Outline; mapping: Record<string, string>; onchange: (mapping: Record<string, string>) => void } = $props();
  const fields: [string, string][] = [
    ["title", "Title"], ["text", "Text"], ["authorName", "Author"], ["authorImage", "Author's image"], ["at", "Date"], ["rating", "Rating"], ["best", "Best rating"], ["image", "Image"], ["link", "Link"], ["tags", "Tags"],
    ["startDate", "Start"], ["endDate", "End"], ["venue", "Venue"], ["eventStatus", "Status"], ["importance", "Importance"], ["expires", "Expires"], ["language", "Language"], ["reply", "Owner's reply"], ["id", "ID"],
  ];
  const few = 6;
  let all = $state(false);
  const shown = $derived(all ? fields : fields.filter(([name], i) => i < few || mapping[name]));
  function set(name: string, place: string) {
    const { [name]: _, ...rest } = mapping;
    onchange(place ? { ...rest, [name]: place } : rest);
  }
  const words = (name: string, values: string[] | null) => (values?.length ? `${name}: ${values[0].slice(0, 40)}` : name);
</script>

<div class="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 border-b border-line px-3 py-2.5 text-sm" role="group" aria-label="Fields">
  {#if (outline.lists?.length ?? 0) > 1}
    <label for="map-items">List</label>
    <select id="map-items" class="field" value={mapping.items ?? ""} onchange={(e) => onchange({ items: e.currentTarget.value })}>{#each outline.lists ?? [] as list (list)}<option value={list}>{list || "the whole document"}</option>{/each}</select>
  {/if}
  {#each shown as [name, label] (name)}
    <label for="map-{name}">{label}</label>
    <select id="map-{name}" class="field min-w-0" value={mapping[name] ?? ""} onchange={(e) => set(name, e.currentTarget.value)}>
      <option value="">not filled</option>
      {#each outline.cells as cell (cell.name)}<option value={cell.name}>{words(cell.name, cell.values)}</option>{/each}
    </select>
  {/each}
  {#if !all}<button type="button" class="col-span-2 justify-self-start rounded text-soft underline underline-offset-4 hover:text-ink" onclick={() => (all = true)}>All fields</button>{/if}
</div>
