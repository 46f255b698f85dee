import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config({ ignores: ["src/api/schema.d.ts"] }, js.configs.recommended, ...ts.configs.recommendedTypeChecked, {
  languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
  plugins: { "react-hooks": hooks },
  rules: {
    ...hooks.configs.recommended.rules,
    "react-hooks/rules-of-hooks": "error",
    "react-hooks/exhaustive-deps": "error",
    "max-lines-per-function": ["error", 120],
    "max-lines": ["error", 600],
    "@typescript-eslint/no-unnecessary-condition": "error",
    "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: false }],
  },
});
