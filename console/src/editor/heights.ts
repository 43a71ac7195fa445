// The heights that a pocket's snippet reserves: a narrow and a wide one, because its reserved height
// changes at 560 pixels.
import { api } from "../api/client";
import type { Height } from "../api/types";
import { measure } from "./stage";

export async function heightsOf(base: string, key: string): Promise<Height[]> {
  const payload = await api.preview(key, { live: true });
  const [narrow, wide] = await Promise.all([measure(base, payload, 312), measure(base, payload, 672)]);
  return [
    { from: 0, ...narrow },
    { from: 560, ...wide },
  ];
}
