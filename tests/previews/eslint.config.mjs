// All recommended rules, for the modules of the preview page and the scripts of exports.
import { createRequire } from "node:module";

const require = createRequire(`${process.env.NODE_PATH}/`);
const js = require("@eslint/js");
const globals = require("globals");

export default [
  js.configs.recommended,
  {
    languageOptions: { ecmaVersion: 2024, sourceType: "module", globals: globals.browser },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: {
      "no-shadow": "error",
      "no-use-before-define": ["error", { functions: false, variables: false }],
      "no-var": "error",
      "prefer-const": "error",
      eqeqeq: "error",
      curly: ["error", "multi-line"],
    },
  },
  {
    // Short names, in a file whose size is held down.
    files: ["**/exports/*.js"],
    rules: { "no-shadow": "off", curly: "off" },
  },
];
