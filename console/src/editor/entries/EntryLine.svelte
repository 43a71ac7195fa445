<script lang="ts">
  // The line at the end of a list: typing makes an entry, Enter the next, a paste many.
  import type { Setting } from "../../api/types";
  import { imagesOf } from "../assets/upload";
  import { columnsOf, entriesOf, targetsOf, type Columns } from "./columns";
  import PasteBox from "./PasteBox.svelte";
  import { readTable, type Table } from "./table";

  type Entry = Record<string, unknown>;
  type Props = {
    id: string;
    label: string;
    fields: Setting[];
    main: Setting; // the text field that typing fills
    room: number; // how many entries can be added
    text: string; // of the entry that is being typed
    write: (text: string) => void; // makes that entry, or changes it
    end: () => void; // the entry is complete
    add: (entries: Entry[]) => void;
    images: (files: File[]) => void;
  };
  let { id, label, fields, main, room, text, write, end, add, images }: Props = $props();
  let checking = $state.raw<{ table: Table; columns: Columns } | null>(null);
  const targets = $derived(targetsOf(fields));

  function paste(event: ClipboardEvent) {
    const files = imagesOf(event.clipboardData);
    if (files.length) {
      event.preventDefault();
      return images(files);
    }
    const given = event.clipboardData?.getData("text/plain") ?? "";
    if (!/[\t\n]/.test(given.trim())) return; // one text
    event.preventDefault();
    const table = readTable(given);
    const columns = columnsOf(table.rows, targets, main.key);
    const { entries, faults } = entriesOf(table.rows, columns, targets);
    if (columns.sure && !table.trouble.length && !faults.length && entries.length <= room) add(entries);
    else checking = { table, columns };
  }
</script>

<input
  {id}
  class="field"
  value={text}
  oninput={(e) => (e.currentTarget.value || text) && write(e.currentTarget.value)}
  onkeydown={(e) => {
    if (e.key != "Enter" || e.isComposing) return;
    e.preventDefault();
    end();
  }}
  onblur={end}
  onpaste={paste}
  disabled={room < 1 && !text}
  placeholder={room < 1 ? "The list is full" : "Type or paste entries"}
  aria-label="{label}: new entry"
  aria-describedby="{id}-how"
  autocomplete="off"
/>
<p id="{id}-how" class="sr-only">Enter starts the next entry. Rows that you paste from a spreadsheet become entries.</p>
{#if checking}
  <PasteBox
    {...checking}
    {targets}
    {room}
    take={(entries) => {
      checking = null;
      add(entries);
    }}
    onclose={() => (checking = null)}
  />
{/if}
