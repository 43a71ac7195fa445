// Requests what every page needs first before the rest of the console runs.
import { session } from "./session/session.svelte";

void session.look();
