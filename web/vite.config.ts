import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    // The content security policy allows no data: fonts.
    assetsInlineLimit: 0,
    emptyOutDir: true,
    // The editor of programs is as large as that, and comes when it is asked for.
    chunkSizeWarningLimit: 700,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8710" } },
});
