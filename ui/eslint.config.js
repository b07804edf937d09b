import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.gen.d.ts", "src/core/*.gen.js"] },
  js.configs.recommended,
  ...ts.configs.strict,
  hooks.configs.flat["recommended-latest"],
  {
    rules: {
      // One room may not reach into another: sections share through kit, car, ribbon and api.
      "no-restricted-imports": [
        "error",
        { patterns: [{ regex: "^\\.\\./(yard|lookover|plan|bay|audits|training|times|shelf|procedures|settings|session)/", message: "Sections share through kit, car, ribbon and api." }] },
      ],
      "no-restricted-syntax": [
        "error",
        { selector: "Property[key.name='queryKey'] > ArrayExpression", message: "Keys stand in one place: api/keys.ts." },
      ],
      // A component is read in one go.
      "max-lines-per-function": ["error", { max: 150, skipBlankLines: true, skipComments: true }],
      "@typescript-eslint/no-confusing-void-expression": "off",
    },
  },
  { files: ["**/*.test.ts", "**/*.test.tsx"], rules: { "max-lines-per-function": "off" } },
);
