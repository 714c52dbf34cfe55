import { defineConfig } from "@hey-api/openapi-ts";

/** The types and the client of the interface, made from its description: `npm run api`. */
export default defineConfig({
  input: "./openapi.json",
  output: { path: "./src/api/generated", clean: true },
  plugins: ["@hey-api/client-fetch", "@hey-api/typescript", "@hey-api/sdk"],
  logs: { level: "error", file: false },
});
