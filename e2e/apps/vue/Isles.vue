<script setup>
import { ref } from "vue";
import Pocket from "./Pocket.vue";

const page = ref("kiln");
</script>

<template>
  <button id="kiln" @click="page = 'kiln'">Kiln</button>
  <button id="ferry" @click="page = 'ferry'">Ferry</button>
  <main v-if="page == 'kiln'"><h1>The kiln</h1><Pocket /><Pocket /></main>
  <main v-else><h1>The ferry</h1></main>
</template>
