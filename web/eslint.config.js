import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import imports from "eslint-plugin-import-x";
import ts from "typescript-eslint";

export default ts.config({ ignores: ["dist", "src/api/schema.d.ts"] }, js.configs.recommended, ts.configs.recommended, {
  plugins: { "react-hooks": hooks, "import-x": imports },
  settings: {
    "import-x/extensions": [".ts", ".tsx"],
    "import-x/resolver-next": [imports.createNodeResolver({ extensions: [".ts", ".tsx"] })],
  },
  rules: {
    "react-hooks/rules-of-hooks": "error",
    "react-hooks/exhaustive-deps": "error",
    "max-lines-per-function": ["error", { max: 120, skipComments: true }],
    complexity: ["error", 20],
    "import-x/no-cycle": "error",
  },
});
