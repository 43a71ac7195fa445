// Uploaded fonts. @font-face does nothing within a shadow root, so they are added to the document
// once, under a name that no page uses.
import type { Pocket, Table } from "./types";

export function fonts(_: Pocket, { fonts }: Table) {
  for (const { family, address } of fonts || []) {
    let there = false;
    for (const face of document.fonts) there ||= face.family == family;
    if (!there) document.fonts.add(new FontFace(family, `url("${address}")`, { display: "swap" }));
  }
}
