import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const stepsApart = {
  files: ["src/steps/**"],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group: ["**/app/*", "**/steps/*"] }] }] },
};
const sharedApart = {
  files: ["src/shared/**"],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group: ["**/app/**", "**/steps/**"] }] }] },
};

export default tseslint.config(
  { ignores: ["src/shared/api/schema.d.ts"] },
  ...tseslint.configs.recommended,
  hooks.configs.flat["recommended-latest"] ?? hooks.configs.flat.recommended,
  stepsApart,
  sharedApart,
);
