import { expect, test } from "vitest";
import type { Setting } from "../../api/types";
import { columnsOf, entriesOf, targetsOf } from "./columns";
import { readTable } from "./table";

const field = (key: string, type: string, label: string, more: object = {}) => ({ key, type, label: { en: label }, ...more }) as unknown as Setting;
const fields = [field("author", "group", "Author", { fields: [field("name", "text", "Name"), field("link", "text", "Page", { format: "uri" })] }), field("rating", "rating", "Rating"), field("at", "moment", "Date"), field("title", "text", "Title"), field("text", "text", "Text", { maxLength: 60 }), field("tags", "tags", "Tags")];
const targets = targetsOf(fields);

test.each([
  ["a cell a line", "one\ntwo\n", [["one"], ["two"]], []],
  ["sentences with commas", "Slow, but warm.\nGood, and near.", [["Slow, but warm."], ["Good, and near."]], []],
  ["a spreadsheet's quotes", 'Name\tText\nEske\t"She said ""warm""\nand left"\n', [["Name", "Text"], ["Eske", 'She said "warm"\nand left']], []],
  ["commas with quotes", '"Eske","a, b"\n"Mirre","c"', [["Eske", "a, b"], ["Mirre", "c"]], []],
  ["semicolons", "a;b\nc;d", [["a", "b"], ["c", "d"]], []],
  ["missing columns", "a\tb\tc\nd", [["a", "b", "c"], ["d", "", ""]], ["1 row has fewer columns than the others."]],
  ["an open quote", 'a\t"b\nc\td', [["a", '"b'], ["c", "d"]], ["The quotation mark in line 1 is not closed."]],
  ["empty lines", "a\tb\r\n\r\nc\td\r\n", [["a", "b"], ["c", "d"]], []],
  ["inches", '5" pipe\t2\n6" pipe\t3', [['5" pipe', "2"], ['6" pipe', "3"]], []],
])("reads %s", (_, text, rows, trouble) => expect(readTable(text)).toEqual({ rows, trouble }));

test("a head names its columns", () => {
  const { rows } = readTable("Name\tStars\tText\tDate\nEske\t5\tWarm\t2026-03-01\nMirre\t4/5\tNear\t1.4.2026");
  const columns = columnsOf(rows, targets, "title");
  expect(columns).toEqual({ head: true, paths: ["author/name", "rating", "text", "at"], sure: true });
  const { entries, faults } = entriesOf(rows, columns, targets);
  expect(faults).toEqual([]);
  expect(entries[1]).toEqual({ author: { name: "Mirre" }, rating: { value: 4, best: 5 }, text: "Near", at: expect.stringMatching(/^2026-04-01T12:00\[/) });
});

test("without a head, the content decides, and somebody checks it", () => {
  const columns = columnsOf(readTable("Eske\t5\tA whole evening of clay\nMirre\t4\tWorth the crossing").rows, targets, "title");
  expect(columns).toEqual({ head: false, paths: ["author/name", "rating", "text"], sure: false });
});

test("what cannot be read is named, with its cell", () => {
  const { rows } = readTable(`Name\tRating\tDate\tText\nEske\tmany\t31.2.2026\t${"x".repeat(61)}\nOla\t9\t2026-01-01\tok`);
  const { faults } = entriesOf(rows, columnsOf(rows, targets, "title"), targets);
  expect(faults.map((f) => [f.row, f.column, f.what.slice(0, 20)])).toEqual([
    [1, 1, "“many” is not a rati"],
    [1, 2, "“31.2.2026” is not a"],
    [1, 3, "61 characters; the l"],
    [2, 1, "“9” is not a rating."],
  ]);
});
