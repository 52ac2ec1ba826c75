import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import { readdirSync } from "node:fs";
import tseslint from "typescript-eslint";

const steps = readdirSync(new URL("./src/steps", import.meta.url));

/** A step imports nothing of the application's frame and nothing of another step; `../pricing/x` is one, `./x` is not. */
const stepsApart = steps.map((step) => ({
  files: [`src/steps/${step}/**`],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          { regex: "(^|/)app(/|$)", message: "a step stands without the frame" },
          {
            regex: `^(\\.\\./)+(steps/)?(${steps.filter((other) => other !== step).join("|")})/`,
            message: "steps stand apart: what both need is shared",
          },
        ],
      },
    ],
  },
}));
const sharedApart = {
  files: ["src/shared/**"],
  rules: {
    "no-restricted-imports": ["error", { patterns: [{ regex: "(^|/)(app|steps)(/|$)" }] }],
  },
};

export default tseslint.config(
  { ignores: ["src/shared/api/schema.d.ts"] },
  ...tseslint.configs.recommended,
  hooks.configs.flat["recommended-latest"] ?? hooks.configs.flat.recommended,
  a11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-floating-promises": "error",
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
      "@typescript-eslint/await-thenable": "error",
      "jsx-a11y/no-autofocus": "off", // the first field of a page that is opened to type into
    },
  },
  ...stepsApart,
  sharedApart,
);
