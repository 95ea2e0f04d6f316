import react from "@vitejs/plugin-react";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  base: "/static/web/",
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 1200 },
});
