// What every page needs first is asked for before the rest of the console has run.
import { session } from "./session/session.svelte";

void session.look();
