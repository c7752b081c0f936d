import vue from "eslint-plugin-vue";
import ts from "typescript-eslint";
import noJobArithmetic from "./lint/no-job-arithmetic.js";

export default ts.config(
    { ignores: ["src/api/schema.d.ts"] },
    ...ts.configs.recommended,
    ...vue.configs["flat/recommended"],
    {
        files: ["src/**/*.vue"],
        languageOptions: { parserOptions: { parser: ts.parser } },
        // A component is read at one look.
        rules: { "max-lines": ["error", 200] },
    },
    { plugins: { job: { rules: { "no-arithmetic": noJobArithmetic } } }, rules: { "job/no-arithmetic": "error" } },
    {
        // Where it is drawn: positions on a sheet, and the stretch of time that a chart shows.
        files: [
            "src/kit/LaneStrip.vue",
            "src/stations/rhythm/{CycleStrip,LifeCurve,MonthBalance,SlotDial}.vue",
            "src/stations/rhythm/window.ts",
            "src/stations/watch/{DayLine,EventLanes}.vue",
            "src/stations/watch/{alert-marks,gaps}.ts",
            "src/stations/watch/views/{plot,range}.ts",
        ],
        rules: { "job/no-arithmetic": "off" },
    },
    {
        // Units as they are read and typed.
        files: ["src/kit/format.ts"],
        rules: { "job/no-arithmetic": "off" },
    },
    {
        // The knobs of the made-up world: five degrees more.
        files: ["src/stations/watch/StandIns.vue"],
        rules: { "job/no-arithmetic": "off" },
    },
    {
        rules: {
            "vue/multi-word-component-names": "off",
            "vue/max-attributes-per-line": "off",
            "vue/singleline-html-element-content-newline": "off",
            "vue/html-self-closing": "off",
            "vue/html-indent": "off",
            "vue/html-closing-bracket-newline": "off",
            "vue/multiline-html-element-content-newline": "off",
            "vue/first-attribute-linebreak": "off",
            "vue/attributes-order": "off",
        },
    },
);
