// Uploads a file for a field, or says why it cannot be used there.
import { Refused, explain } from "../../api/refused";
import type { Library } from "../library.svelte";

export type Kind = "image" | "sound" | "font";
export const accepts = { image: "image/*", sound: "audio/*", font: ".woff2,.woff,.ttf,.otf" };
export const formats = { image: "JPEG, PNG, GIF, WebP and SVG", sound: "MP3, Ogg, WAV and FLAC", font: "WOFF2, WOFF, TrueType and OpenType" };
export const most = { image: 12, sound: 4, font: 1 }; // MiB
const named: Record<string, string> = { image: "an image", sound: "a sound", font: "a font" };

export async function upload(library: Library, file: File, kind: Kind): Promise<{ ref: string } | { trouble: string }> {
  if (file.size > most[kind] * 2 ** 20) return { trouble: `${file.name} has ${(file.size / 2 ** 20).toFixed(1)} MB; the limit is ${most[kind]} MB.${kind == "image" ? " Make it smaller: a width of 2,560 pixels is enough." : ""}` };
  try {
    const made = await library.upload(file);
    if (made.kind == kind) return { ref: made.digest };
    return { trouble: `${file.name} is ${named[made.kind]}. Here you need ${named[kind]}: ${formats[kind]} files are accepted. It is now one of the customer's files.` };
  } catch (error) {
    const unknown = error instanceof Refused && error.faults.some((f) => f.code == "asset-unknown");
    return { trouble: unknown && file.size ? `${file.name} is not ${named[kind]} that can be used here. Accepted: ${formats[kind]}.` : explain(error) };
  }
}

// The image files of a drop or a paste.
export const imagesOf = (data: DataTransfer | null): File[] => [...(data?.files ?? [])].filter((f) => f.type.startsWith("image/"));
