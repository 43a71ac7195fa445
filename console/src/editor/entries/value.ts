// The value of a field, from text that somebody typed in a spreadsheet.
import type { Setting } from "../../api/types";

export type Read = { value?: unknown; fault?: string };

type Reader = (text: string, field: Setting) => Read;

const number = (text: string) => (/^[-+]?\d{1,3}([ ,.’']\d{3})*([.,]\d+)?$|^[-+]?\d+([.,]\d+)?$/.test(text) ? Number(text.replace(/[ ’']/g, "").replace(/,(?=\d{1,2}$)/, ".").replace(/,/g, "")) : NaN);

// A day as year-month-day; day and month as 3.4.2026, 3/4/2026 are read as day, then month.
function day(text: string): string | undefined {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})/.exec(text);
  const own = /^(\d{1,2})[./](\d{1,2})[./](\d{4})/.exec(text);
  const [year, month, date] = iso ? iso.slice(1) : own ? [own[3], own[2], own[1]] : [];
  if (!year) return undefined;
  const [m, d] = [Number(month), Number(date)];
  if (m < 1 || m > 12 || d < 1 || d > new Date(Date.UTC(Number(year), m, 0)).getUTCDate()) return undefined;
  return `${year}-${String(m).padStart(2, "0")}-${String(d).padStart(2, "0")}`;
}

const readers: Record<string, Reader> = {
  text: (text, field) => (field.maxLength && [...text].length > field.maxLength ? { fault: `${[...text].length} characters; the limit is ${field.maxLength}.` } : { value: text }),
  richText: (text) => ({ value: text.split(/\n{2,}/).map((p) => `<p>${p.replace(/[&<>]/g, (c) => `&#${c.charCodeAt(0)};`).replace(/\n/g, "<br>")}</p>`).join("") }),
  number: (text, field) => {
    const n = number(text);
    if (Number.isNaN(n)) return { fault: `“${text}” is not a number.` };
    if ((field.minimum !== undefined && n < field.minimum) || (field.maximum !== undefined && n > field.maximum)) return { fault: `The number must be from ${field.minimum ?? "any"} to ${field.maximum ?? "any"}.` };
    return { value: n };
  },
  rating: (text) => {
    const [, value, best] = /^([\d.,]+)(?:\s*(?:\/|of|out of)\s*(\d+))?(?:\s*(?:stars?|★))?$/i.exec(text) ?? [];
    const stars = /^[★⭐]+$/u.exec(text) ? [...text].length : number(value ?? "");
    const most = Number(best ?? 5);
    return stars >= 0 && stars <= most ? { value: { value: stars, best: most } } : { fault: `“${text}” is not a rating. Write 4, 4.5 or 8/10.` };
  },
  date: (text) => {
    const on = day(text);
    return on ? { value: on } : { fault: `“${text}” is not a date. Write 2026-03-01.` };
  },
  moment: (text) => {
    const on = day(text);
    const at = /(\d{1,2}):(\d{2})/.exec(text);
    if (!on || (at && (Number(at[1]) > 23 || Number(at[2]) > 59))) return { fault: `“${text}” is not a date. Write 2026-03-01 or 2026-03-01 18:00.` };
    return { value: `${on}T${at ? `${at[1].padStart(2, "0")}:${at[2]}` : "12:00"}[${Intl.DateTimeFormat().resolvedOptions().timeZone}]` };
  },
  tags: (text) => ({ value: text.split(/[,;\n]/).map((t) => t.trim()).filter(Boolean) }),
  link: (text) => {
    const address = /^[a-z]+:/i.test(text) ? text : /^[\w-]+(\.[\w-]+)+/.test(text) ? `https://${text}` : "";
    return /^(https?|mailto|tel):/i.test(address) ? { value: { address } } : { fault: `“${text}” is not a link. Write https://…` };
  },
  choice: (text, field) => {
    const want = text.toLowerCase();
    const found = field.options?.find((o) => o.value.toLowerCase() == want || o.label.en?.toLowerCase() == want);
    return found ? { value: found.value } : { fault: `“${text}” is not an option. Options: ${field.options?.map((o) => o.label.en ?? o.value).join(", ")}.` };
  },
  switch: (text) => {
    if (/^(yes|true|on|1|x|✓)$/i.test(text)) return { value: true };
    return /^(no|false|off|0)$/i.test(text) ? { value: false } : { fault: `“${text}” is neither yes nor no.` };
  },
};

export const readable = (field: Setting) => field.type in readers;
export const fromText = (field: Setting, text: string): Read => (field.format == "uri" && !/^https?:/i.test(text) ? { fault: `“${text}” is not a link. Write https://…` } : readers[field.type](text, field));
