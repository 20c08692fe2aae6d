import "@fontsource-variable/sofia-sans-semi-condensed/wght.css";
import "@fontsource-variable/literata/wght.css";
import "virtual:ant.css";
import "./app/tokens.css";
import "./app/page.css";
import "./parts/parts.css";
import "./drawing/drawing.css";

import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { App } from "./app/App";
import { beginCarrying } from "./pocket/carrying";
import { keepFieldInSight } from "./pocket/keyboard";
import { register } from "./pocket/registration";

keepFieldInSight();
void register();
void beginCarrying();

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
