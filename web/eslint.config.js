import js from "@eslint/js"
import hooks from "eslint-plugin-react-hooks"
import tseslint from "typescript-eslint"

const ROOMS = ["shed", "kit", "plan", "bench", "judge", "records"]

/** A room imports no other: what several share lies in parts, and what they ask the server in api. */
const apart = ROOMS.map((room) => ({
  files: [`src/${room}/**`],
  rules: {
    "no-restricted-imports": [
      "error",
      { patterns: ROOMS.filter((other) => other !== room).map((other) => ({ group: [`**/${other}/*`], message: "another room" })) },
    ],
  },
}))
const below = {
  files: ["src/parts/**", "src/api/**"],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group: [...ROOMS.map((room) => `**/${room}/*`), "**/app/*"], message: "a room above" }] }] },
}

/** How long something lasts is told by the page's steady clock: a phone's own is put right while it is used. */
const steady = {
  files: ["src/**"],
  ignores: ["src/api/ids.ts", "src/app/seen.ts", "src/bench/outbox.ts", "src/**/*.test.*"],
  rules: { "no-restricted-properties": ["error", { object: "Date", property: "now", message: "performance.now() is not put back" }] },
}

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  { plugins: { "react-hooks": hooks }, rules: { ...hooks.configs.recommended.rules } },
  steady,
  ...apart,
  below,
)
