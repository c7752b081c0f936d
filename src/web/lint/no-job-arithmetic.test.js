/** The rule finds arithmetic on what is measured or planned, and leaves what is shown, sorted or told as an age. */
import { RuleTester } from "eslint";
import rule from "./no-job-arithmetic.js";

const found = (code) => ({ code, errors: [{ messageId: "workedOut" }] });
new RuleTester().run("no-job-arithmetic", rule, {
    valid: [
        "const age = now - reading.atMs;",
        "const age = props.nowMs - reading.atMs;",
        "const age = clock.now.value - reading.atMs;",
        "rows.sort((a, b) => b.raisedMs - a.raisedMs);",
        "const left = counter.value - 1;",
        "const text = `${figure.value} V`;",
        "const index = place.at + 1;",
        "const late = timing.latenessMs > 5;",
    ],
    invalid: [
        found("const percent = (rail.peak.value / 3) * 2;"),
        found("const all = walk.heard + walk.lost;"),
        found("const lasts = episode.clearedMs - episode.raisedMs;"),
        found("const share = 100 * cells?.usedPercent;"),
        found("const next = (reading.intervalMs ?? 0) * 2;"),
        found("total += node.averageMilliamps;"),
    ],
});
