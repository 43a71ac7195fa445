<script lang="ts">
  // A pasted table, to correct before it is taken.
  import Box from "../../ui/Box.svelte";
  import Button from "../../ui/Button.svelte";
  import { entriesOf, type Columns, type Target } from "./columns";
  import type { Table } from "./table";

  type Props = { table: Table; columns: Columns; targets: Target[]; room: number; take: (entries: Record<string, unknown>[]) => void; onclose: () => void };
  let { table, columns, targets, room, take, onclose }: Props = $props();
  // svelte-ignore state_referenced_locally: the dialog is created for each paste
  let rows = $state(table.rows.map((row) => [...row]));
  // svelte-ignore state_referenced_locally
  let paths = $state([...columns.paths]);
  // svelte-ignore state_referenced_locally
  let head = $state(columns.head);
  const taken = $derived(entriesOf(rows, { head, paths, sure: false }, targets));
  const entries = $derived(taken.entries.filter((e) => Object.keys(e).length));
  const faultAt = (row: number, column: number) => taken.faults.find((f) => f.row == row && f.column == column)?.what;
  const over = $derived(Math.max(0, entries.length - room));
  const most = 100; // rows that are shown
</script>

<Box title="Check the pasted rows" about="Choose what each column is, and correct marked cells." wide {onclose} onsubmit={() => taken.faults.length == 0 && over == 0 && take(entries)}>
  {#each table.trouble as line (line)}<p class="mb-2 text-warn">{line}</p>{/each}
  {#if over}<p role="alert" class="mb-2 text-bad">{over == 1 ? "1 entry is" : `${over} entries are`} too many: the list has room for {room}. Delete rows.</p>{/if}
  <label class="mb-3 flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" bind:checked={head} />The first row names the columns</label>
  <div class="overflow-x-auto rounded-lg border border-line bg-sheet">
    <table class="w-full text-start text-sm">
      <thead>
        <tr class="border-b border-line bg-sunk">
          {#each paths as _, i (i)}
            <th scope="col" class="min-w-40 p-2 text-start font-medium">
              <select class="field min-h-8 py-1" aria-label="Column {i + 1}" bind:value={paths[i]}>
                <option value="">Leave out</option>
                {#each targets as t (t.path)}<option value={t.path}>{t.label}</option>{/each}
              </select>
            </th>
          {/each}
          <th scope="col" class="w-0 p-2"><span class="sr-only">Delete</span></th>
        </tr>
      </thead>
      <tbody>
        {#each rows.slice(0, most) as row, r (row)}
          <tr class={["border-b border-line last:border-0", head && r == 0 && "text-soft"]}>
            {#each row as _, c (c)}
              {@const fault = faultAt(r, c)}
              <td class="p-1 align-top">
                {#if head && r == 0}<span class="block px-2 py-1.5 font-medium">{row[c]}</span>
                {:else}
                  <textarea rows={Math.min(3, row[c].split("\n").length)} class="field min-h-8 py-1 text-sm" bind:value={row[c]} disabled={!paths[c]} aria-label="Row {r + 1}, column {c + 1}" aria-invalid={!!fault}></textarea>
                  {#if fault}<p class="px-1 pt-0.5 text-bad">{fault}</p>{/if}
                {/if}
              </td>
            {/each}
            <td class="p-1 align-top"><button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink" aria-label="Delete row {r + 1}" title="Delete row" onclick={() => (rows = rows.filter((_, i) => i != r))}>✕</button></td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  {#if rows.length > most}<p class="mt-2 text-sm text-soft">{rows.length - most} more rows are not shown.</p>{/if}
  {#snippet actions()}
    <p class="me-auto text-sm text-soft" role="status">{taken.faults.length ? (taken.faults.length == 1 ? "1 cell cannot be used." : `${taken.faults.length} cells cannot be used.`) : ""}</p>
    <Button kind="plain" onclick={onclose}>Cancel</Button>
    <Button type="submit" disabled={!entries.length || taken.faults.length > 0 || over > 0}>Add {entries.length == 1 ? "1 entry" : `${entries.length} entries`}</Button>
  {/snippet}
</Box>
