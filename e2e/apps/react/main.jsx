import { StrictMode, useState } from "react";
import { createRoot } from "react-dom/client";
import Pocket from "./Pocket.jsx";

function Isles() {
  const [page, go] = useState("kiln");
  return (
    <>
      <button id="kiln" onClick={() => go("kiln")}>Kiln</button>
      <button id="ferry" onClick={() => go("ferry")}>Ferry</button>
      {page == "kiln" ? <main><h1>The kiln</h1><Pocket /><Pocket /></main> : <main><h1>The ferry</h1></main>}
    </>
  );
}
createRoot(document.getElementById("app")).render(<StrictMode><Isles /></StrictMode>);
