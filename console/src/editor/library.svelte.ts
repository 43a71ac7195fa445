// The pictures, sounds and fonts that a pocket may show: the widget's own and the customer's.
import { api } from "../api/client";
import type { Asset, Widget } from "../api/types";
import { session } from "../session/session.svelte";

export class Library {
  assets = $state<Asset[]>([]); // the customer's, once a field has asked for them
  #asked = false;

  constructor(
    readonly customer: () => string,
    readonly widget: () => Widget | null,
    readonly save: () => Promise<void>,
    readonly failed: (error: unknown) => void,
  ) {}

  async load(again = false) {
    if ((this.#asked && !again) || session.guest) return;
    this.#asked = true;
    try {
      this.assets = await api.assets(this.customer());
    } catch (error) {
      this.#asked = false;
      this.failed(error);
    }
  }

  async upload(file: File): Promise<Asset> {
    const bytes = await new Promise<string>((resolve, reject) => {
      const reader = new FileReader();
      reader.onload = () => resolve(String(reader.result).split(",")[1] ?? "");
      reader.onerror = () => reject(new Error(`${file.name} cannot be read.`));
      reader.readAsDataURL(file);
    });
    const asset = await api.upload(this.customer(), file.name, bytes);
    await this.load(true);
    return asset;
  }

  // The keys of the pockets that show one of the customer's assets, this one's draft as it
  // stands in the form among them.
  async uses(digest: string): Promise<string[]> {
    await this.save();
    return (await api.asset(this.customer(), digest)).usedBy ?? [];
  }

  async end(digest: string) {
    await api.deleteAsset(this.customer(), digest);
    await this.load(true);
  }

  // Where an asset can be seen; "" while it is not known.
  address(ref: string): string {
    if (!ref) return "";
    if (!ref.startsWith("assets/")) this.load();
    return this.widget()?.images[ref]?.address ?? this.assets.find((a) => a.digest == ref)?.address ?? "";
  }

  name(ref: string): string {
    this.address(ref);
    return this.widget()?.images[ref]?.name ?? this.assets.find((a) => a.digest == ref)?.name ?? ref.slice(0, 12);
  }
}
