// The images, sounds and fonts for a pocket: the widget's and the customer's.
import { api } from "../api/client";
import type { Asset, Widget } from "../api/types";
import { session } from "../session/session.svelte";

export class Library {
  assets = $state<Asset[]>([]); // the customer's, once a field needs them
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

  // The keys of the pockets that use a customer's asset, including this pocket's unsaved draft.
  async uses(digest: string): Promise<string[]> {
    await this.save();
    return (await api.asset(this.customer(), digest)).usedBy ?? [];
  }

  async delete(digest: string) {
    await api.deleteAsset(this.customer(), digest);
    await this.load(true);
  }

  // An asset's address; "" while it is unknown.
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
