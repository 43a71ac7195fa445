// Which column of a pasted table fills which field of an entry, and the entries that result.
import type { Setting } from "../../api/types";
import { types } from "../fields/table";
import { fromText, readable } from "./value";

export interface Target {
  path: string; // "text", or "author/name" in a group
  label: string;
  field: Setting;
}

// The fields that a cell can fill.
export function targetsOf(fields: Setting[], within = "", above = ""): Target[] {
  return fields.flatMap((field) => {
    const label = field.label.en ?? field.key;
    if (field.type == "group") return targetsOf(field.fields ?? [], `${within}${field.key}/`, `${above}${label}: `);
    return readable(field) ? [{ path: within + field.key, label: above + label, field }] : [];
  });
}

export interface Columns {
  head: boolean; // whether the first row has the names of the columns
  paths: string[]; // for each column; "" for none
  sure: boolean; // whether nobody needs to check this
}

const plain = (text: string) => text.toLowerCase().normalize("NFKD").replace(/[^\p{L}\p{N}]+/gu, " ").trim();

export function columnsOf(rows: string[][], targets: Target[], main: string): Columns {
  const width = rows[0]?.length ?? 0;
  const named = new Array<string>(width).fill("");
  const free = () => targets.filter((t) => !named.includes(t.path));
  const heads = (rows[0] ?? []).map(plain);
  for (const fits of [exact, ends, synonym]) {
    heads.forEach((head, i) => {
      if (head && !named[i]) named[i] = free().find((t) => fits(head, t))?.path ?? "";
    });
  }
  const matched = named.filter(Boolean).length;
  if (rows.length > 1 && matched && matched * 2 >= width) return { head: true, paths: named, sure: matched == width };
  if (width == 1) return { head: false, paths: [main], sure: true };
  return { head: false, paths: guess(rows, targets, main), sure: false };
}

const exact = (head: string, t: Target) => head == plain(t.label) || head == plain(t.path) || head == plain(t.field.key);
const ends = (head: string, t: Target) => plain(t.path.split("/").at(-1)!) == head || plain(t.field.label.en ?? "") == head || plain(t.path.split("/")[0]) == head;
const synonym = (head: string, t: Target) => plain(types[t.field.type]?.called?.en ?? "").split(" ").includes(head) || (t.field.type == "text" && ["comment", "quote", "review", "message"].includes(head) && t.path == "text");

// By their content: numbers, dates and links first, then the longest text, then the others.
function guess(rows: string[][], targets: Target[], main: string): string[] {
  const paths = new Array<string>(rows[0].length).fill("");
  const cells = (i: number) => rows.map((row) => row[i]).filter(Boolean);
  const take = (i: number, path?: string) => void (path && !paths[i] && !paths.includes(path) && (paths[i] = path));
  paths.forEach((_, i) => {
    const fit = targets.find((t) => t.field.type != "text" && t.field.type != "tags" && !paths.includes(t.path) && cells(i).length && cells(i).every((cell) => fromText(t.field, cell).value !== undefined));
    take(i, fit?.path);
  });
  const lengths = paths.map((_, i) => cells(i).join("").length);
  const longest = lengths.indexOf(Math.max(...lengths.filter((_, i) => !paths[i])));
  if (!paths[longest]) take(longest, targets.find((t) => t.path == "text")?.path ?? main);
  const left = targets.filter((t) => t.field.type == "text" && !t.field.format);
  paths.forEach((path, i) => void (path || take(i, left.find((t) => !paths.includes(t.path))?.path)));
  return paths;
}

export interface Taken {
  entries: Record<string, unknown>[]; // without ids
  faults: { row: number; column: number; what: string }[];
}

export function entriesOf(rows: string[][], columns: Columns, targets: Target[]): Taken {
  const faults: Taken["faults"] = [];
  const entries = rows.slice(columns.head ? 1 : 0).map((row, r) => {
    const entry: Record<string, unknown> = {};
    row.forEach((cell, column) => {
      const target = targets.find((t) => t.path == columns.paths[column]);
      if (!target || !cell) return;
      const { value, fault } = fromText(target.field, cell);
      if (fault) return void faults.push({ row: r + (columns.head ? 1 : 0), column, what: fault });
      const [head, key] = target.path.split("/");
      if (key) entry[head] = { ...((entry[head] as object) ?? {}), [key]: value };
      else entry[head] = value;
    });
    return entry;
  });
  return { entries, faults };
}
