import { mount } from "svelte";
import Isles from "./Isles.svelte";

mount(Isles, { target: document.getElementById("app") });
