// Reads what was copied from a spreadsheet or a CSV file (RFC 4180): cells separated by tabs,
// semicolons or commas. Text in quotes can contain separators and line breaks; two quotes are one.

export interface Table {
  rows: string[][];
  trouble: string[]; // what was not as expected, in words
}

export function readTable(text: string): Table {
  const clean = text.replace(/^\ufeff/, "").replace(/\r\n?/g, "\n").replace(/\n+$/, "");
  const by = separator(clean);
  const { rows, open } = split(clean, by);
  const full = rows.filter((row) => row.some((cell) => cell.trim()));
  const trouble: string[] = [];
  if (open) trouble.push(`The quotation mark in line ${open} is not closed.`);
  const width = Math.max(0, ...full.map((row) => row.length));
  const short = full.filter((row) => row.length < width).length;
  if (short) trouble.push(short == 1 ? "1 row has fewer columns than the others." : `${short} rows have fewer columns than the others.`);
  return { rows: full.map((row) => [...row.map((cell) => cell.trim()), ...Array<string>(width - row.length).fill("")]), trouble };
}

// The separator: tabs if there are any, else what divides every line into equally many cells.
function separator(text: string): string {
  if (split(text, "\t").rows.some((row) => row.length > 1)) return "\t";
  for (const by of [";", ","]) {
    if (/, /.test(text.replace(/"(?:[^"]|"")*"/g, "")) && by == ",") continue; // a sentence
    const { rows, open } = split(text, by);
    const lines = rows.filter((row) => row.some((cell) => cell.trim()));
    if (!open && lines.length > 1 && lines[0].length > 1 && lines.every((row) => row.length == lines[0].length)) return by;
  }
  // Sentences have commas too, so a list of lines stays one column.
  return quotedCells(text) ? "," : "\t";
}

const quotedCells = (text: string) => text.split("\n").filter((line) => /^".*",|,".*"$/.test(line)).length > 1;

function split(text: string, by: string): { rows: string[][]; open: number } {
  const rows: string[][] = [[""]];
  let quoted = false;
  let line = 1;
  let open = 0;
  const last = () => rows[rows.length - 1];
  const add = (c: string) => (last()[last().length - 1] += c);
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c == "\n") line++;
    if (quoted) {
      if (c != '"') add(c);
      else if (text[i + 1] == '"') add(text[i++]);
      else quoted = false;
    } else if (c == '"' && last().at(-1) == "" && closes(text, i)) {
      quoted = true;
      open = line;
    } else if (c == '"' && last().at(-1) == "") {
      open = line; // an opening mark that never closes is text
      add(c);
      quoted = false;
      return rest(rows, text.slice(i + 1), by, open);
    } else if (c == by) last().push("");
    else if (c == "\n") rows.push([""]);
    else add(c);
  }
  return { rows, open: quoted ? open : 0 };
}

// The rest of a text with a quotation mark that is not closed, read without quotes.
function rest(rows: string[][], text: string, by: string, open: number): { rows: string[][]; open: number } {
  for (const [n, line] of text.split("\n").entries()) {
    const cells = line.split(by);
    if (n) rows.push(cells);
    else {
      const last = rows[rows.length - 1];
      last[last.length - 1] += cells[0];
      last.push(...cells.slice(1));
    }
  }
  return { rows, open };
}

const closes = (text: string, at: number) => /^"(?:[^"]|"")*"(?!")/.test(text.slice(at));
