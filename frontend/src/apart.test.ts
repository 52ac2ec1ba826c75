// @vitest-environment node
import { ESLint } from "eslint";
import { expect, test } from "vitest";

// The rule needs no types, and reading them all would take longer than the rest of the tests.
const typed = ["no-floating-promises", "no-misused-promises", "await-thenable"];
const lint = new ESLint({
  cwd: new URL("..", import.meta.url).pathname,
  overrideConfig: {
    languageOptions: { parserOptions: { projectService: false } },
    rules: Object.fromEntries(typed.map((rule) => [`@typescript-eslint/${rule}`, "off" as const])),
  },
});

async function faults(filePath: string, from: string): Promise<string[]> {
  const [found] = await lint.lintText(`import * as it from "${from}";\nexport default it;\n`, { filePath });
  return (found?.messages ?? []).flatMap(({ ruleId }) =>
    ruleId === "no-restricted-imports" ? [ruleId] : [],
  );
}

test("the rule that keeps steps apart finds what leads to another step or to the frame, and nothing else", async () => {
  const page = "src/steps/buying/BuyingPage.tsx";
  expect(await faults(page, "../pricing/Ways")).toHaveLength(1);
  expect(await faults(page, "../../steps/stock/StockPage")).toHaveLength(1);
  expect(await faults(page, "../../app/Frame")).toHaveLength(1);
  expect(await faults("src/shared/Table.tsx", "../steps/buying/queries")).toHaveLength(1);
  for (const fine of ["./queries", "../../shared/Table", "react"])
    expect(await faults(page, fine)).toEqual([]);
}, 30_000);
