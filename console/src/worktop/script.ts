// A mount module as the worktop runs it: endless loops are stopped, and places in the running code
// are mapped to the author's files.
import { javascriptLanguage, typescriptLanguage } from "@codemirror/lang-javascript";
import { originalPositionFor, TraceMap } from "@jridgewell/trace-mapping";

export type Spot = [line: number, column: number]; // both from 1
export interface At {
  path: string;
  line: number; // from 1
  column: number; // from 1
}

interface Inserted {
  line: number; // from 1
  column: number; // from 0, before the insertion
  length: number;
}

const guard = "$glassTurn();";

export class Script {
  readonly text: string;
  #inserted: Inserted[] = [];
  #map: TraceMap | undefined;

  // before is the number of lines of code before the part with the source map.
  constructor(
    code: string,
    readonly before: number,
    map: string,
  ) {
    if (map) this.#map = new TraceMap(map);
    this.text = code && this.#guarded(code);
  }

  #guarded(code: string): string {
    const at: { offset: number; text: string }[] = [];
    javascriptLanguage.parser.parse(code).iterate({
      enter({ name, node }) {
        if (name != "ForStatement" && name != "WhileStatement" && name != "DoStatement") return;
        const body = name == "DoStatement" ? node.firstChild?.nextSibling : node.lastChild;
        if (!body || body.type.isError) return;
        if (body.name == "Block") at.push({ offset: body.from + 1, text: guard });
        else at.push({ offset: body.from, text: "{" + guard }, { offset: body.to, text: "}" });
      },
    });
    at.sort((a, b) => a.offset - b.offset);
    let text = "";
    let last = 0;
    let line = 1;
    for (const { offset, text: more } of at) {
      const piece = code.slice(last, offset);
      text += piece + more;
      last = offset;
      line += piece.split("\n").length - 1;
      this.#inserted.push({ line, column: offset - (code.lastIndexOf("\n", offset - 1) + 1), length: more.length });
    }
    return text + code.slice(last);
  }

  // Maps a place in the frame's module, whose first line is the frame's own, to the author's
  // source.
  origin([line, column]: Spot): At | null {
    if (!this.#map) return null;
    const row = line - 1;
    let col = column - 1;
    let moved = 0;
    for (const i of this.#inserted) if (i.line == row && i.column + moved + i.length <= col) moved += i.length;
    col -= moved;
    if (row <= this.before) return null; // our own code
    const found = originalPositionFor(this.#map, { line: row - this.before, column: Math.max(0, col) });
    if (found.source == null || found.line == null || found.source == "(entry)") return null;
    return { path: found.source.replace(/^widget:/, ""), line: found.line, column: (found.column ?? 0) + 1 };
  }
}

// The statement at a place in a script, if it is short.
export function statementAt(source: string, path: string, offset: number): { from: number; to: number } {
  const language = path.endsWith(".ts") ? typescriptLanguage : javascriptLanguage;
  const lineStart = source.lastIndexOf("\n", offset - 1) + 1;
  const lineEnd = source.indexOf("\n", offset);
  let best = { from: lineStart, to: lineEnd < 0 ? source.length : lineEnd };
  for (let node = language.parser.parse(source).resolveInner(offset, 1) as import("@lezer/common").SyntaxNode | null; node; node = node.parent) {
    if (!/(Statement|Declaration)$/.test(node.name)) continue;
    const from = source.lastIndexOf("\n", node.from - 1) + 1;
    if (source.slice(from, node.to).split("\n").length > 6) break;
    best = { from: Math.min(best.from, from), to: Math.max(best.to, node.to) };
    if (node.name != "VariableDeclaration" || node.parent?.name == "Block" || node.parent?.name == "Script") break;
  }
  return best;
}
