import { expect, test } from "vitest";
import { pageOf, pieceOf } from "./pieces-of-page";

test.each([
  ["html", "<div class='a'>x</div>"],
  ["html", "<!-- a card -->\n<!doctype html><html></html>"],
  ["css", ".card { color: red }"],
  ["css", "/* function of the card */\n.card::before { content: \"return;\"; padding: 1px }"],
  ["css", "@media (min-width: 1px) { a { color: red } }"],
  ["js", "const a = 1;"],
  ["js", "document.querySelector('.card').addEventListener('click', () => { open = { a: 1 }; });"],
  ["js", "// <b>bold</b>\nlet x = '<i>';"],
] as const)("%s: %s", (kind, text) => expect(pieceOf(text)).toBe(kind));

test("one page of all pieces, in a whole page or a part of one", () => {
  expect(pageOf({ html: "<p>x</p>", css: "p { top: 0 }", js: "go('</script>')" })).toBe("<style>\np { top: 0 }\n</style>\n<p>x</p>\n<script>\ngo('<\\/script>')\n</script>\n");
  expect(pageOf({ html: "<html><head></head><body>x</body></html>", css: "p { top: 0 }", js: "" })).toBe("<html><head><style>\np { top: 0 }\n</style>\n</head><body>x</body></html>");
});
