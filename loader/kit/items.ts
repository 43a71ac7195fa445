import type { Pocket, Table } from "./types";

export function items(pocket: Pocket, { items }: Table) {
  pocket.items = pocket.settings[items!] || [];
}
