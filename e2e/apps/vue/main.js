import { createApp } from "vue";
import Isles from "./Isles.vue";

createApp(Isles).mount("#app");
