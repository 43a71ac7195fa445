<script lang="ts" module>
  import type { Customer as Found } from "../api/types";

  // The only customer, or "" if there are several to choose from.
  export const only = (found: Found[]) => (found.length == 1 ? found[0].id : "");
</script>

<script lang="ts">
  // Selects a customer: from a list if there are few, by search if there are many.
  import { api } from "../api/client";
  import type { Customer } from "../api/types";
  import { session } from "../session/session.svelte";

  // choose: nobody is selected at first. any: label of the choice of all customers, if it is
  // possible. onfound: receives the customers, so that the parent can show that there are none.
  let {
    value,
    id,
    label,
    any = "",
    choose = false,
    size = "",
    onchange,
    onfound = () => {},
  }: { value: string; id: string; label?: string; any?: string; choose?: boolean; size?: string; onchange: (customer: string) => void; onfound?: (customers: Customer[]) => void } = $props();
  let found = $state<Customer[]>([]);
  let many = $state(false);
  let text = $state("");
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let turn = 0;
  let typing = $state(false);
  const wrong = $derived(many && !typing && text.trim() != "" && !meant(text));

  function meant(text: string): Customer | undefined {
    const wanted = text.trim().toLowerCase();
    return found.find((c) => c.id == wanted) ?? found.find((c) => c.name.toLowerCase() == wanted);
  }
  async function look(search = "") {
    const mine = ++turn;
    try {
      const page = await api.customers(search);
      if (mine != turn) return;
      found = page.customers;
      many ||= !!page.next;
      onfound(found);
    } catch (error) {
      session.expire(error); // the parent reports that there was no response
    }
  }
  void look().then(async () => {
    if (!many || !value) return;
    const selected = found.find((c) => c.id == value) ?? (await api.customer(value).catch(() => undefined));
    if (selected && !text) text = selected.name;
  });
  // When the parent selects all again, the field follows.
  // svelte-ignore state_referenced_locally: the value before the first change
  let was = value;
  $effect(() => {
    if (was && !value) text = "";
    was = value;
  });
  // Leaving the field selects the only match.
  async function left() {
    clearTimeout(waiting);
    if (text.trim() && !meant(text)) {
      await look(text.trim());
      if (found.length == 1) {
        text = found[0].name;
        onchange(found[0].id);
      }
    }
    typing = false;
  }
  function typed(input: string) {
    typing = true;
    text = input;
    const at = meant(input);
    if (at || (any && input.trim() == "")) onchange(at?.id ?? "");
    clearTimeout(waiting);
    waiting = setTimeout(async () => {
      await look(text.trim());
      const at = meant(input);
      if (at && at.id != value) onchange(at.id);
    }, 150);
  }
</script>

{#if many}
  <div class={size}>
    <input {id} type="search" class="field" list="{id}-found" aria-label={label} placeholder={any || "Type a name"} value={text} oninput={(e) => typed(e.currentTarget.value)} onchange={left} autocomplete="off" aria-invalid={wrong} aria-describedby="{id}-about" />
    <datalist id="{id}-found">{#each found.slice(0, 50) as c (c.id)}<option value={c.name}>{c.id}</option>{/each}</datalist>
    <p id="{id}-about" class={any || !wrong ? "sr-only" : "mt-1 text-sm text-soft"} role="status">{wrong ? "Choose a customer from the list." : ""}</p>
  </div>
{:else}
  <select {id} class={["field", size]} aria-label={label} {value} onchange={(e) => onchange(e.currentTarget.value)}>
    {#if any || (choose && !value)}<option value="">{any || "Choose a customer"}</option>{/if}
    {#each found as c (c.id)}<option value={c.id}>{c.name}</option>{/each}
  </select>
{/if}
