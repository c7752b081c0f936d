/**
 * What is measured or planned is worked out in C#: the interface shows it, and does not calculate with it. Names of such values, as the server gives them,
 * may not be operands of + - * / %. Files that only draw (positions, scales, times in words) are excepted in the configuration, each with its reason.
 */
const WORKED_OUT =
    /^(value|low|high|typical|peak|budget|heard|lost|sent|count|pace|factor|likely|average)$|(Ms|Percent|Milliamps|Amps|Volts|Metres|Celsius|Ohms|Dbm|Bytes|Days|Hours|Seconds|Share|Litres|Metre)$/;

const OPERATORS = new Set(["+", "-", "*", "/", "%", "**"]);

/** How long ago, or how long until: a moment and the present one. */
const isNow = (node) =>
    /^now/i.test(node.type === "Identifier" ? node.name : (nameOf(node) ?? "")) || /\bnow(Ms)?\.value$/.test(textOf(node));

function textOf(node) {
    if (node.type === "MemberExpression" && !node.computed) return `${textOf(node.object)}.${node.property.name}`;
    return node.type === "Identifier" ? node.name : "";
}

/** The name of a value that is read from an object: a.b.valueMs, a?.valueMs, a.valueMs!. */
function nameOf(node) {
    let of = node;
    while (of && ["TSNonNullExpression", "TSAsExpression", "ChainExpression"].includes(of.type)) of = of.expression;
    if (of?.type === "LogicalExpression" && of.operator === "??") return nameOf(of.left);
    if (of?.type !== "MemberExpression" || of.computed) return undefined;
    // What a ref of Vue holds is a local of the page; figure.value of an answer is not.
    return of.property.name === "value" && of.object.type === "Identifier" ? undefined : of.property.name;
}

/** A comparison for sorting: two of the same name. */
const isOrder = (node) => node.operator === "-" && nameOf(node.left) === nameOf(node.right);

export default {
    meta: {
        type: "problem",
        messages: { workedOut: "“{{name}}” is worked out by the server; let it answer what is calculated from it." },
        schema: [],
    },
    create(context) {
        function check(node, operands) {
            const name = operands.map(nameOf).find((n) => n !== undefined && WORKED_OUT.test(n));
            if (name) context.report({ node, messageId: "workedOut", data: { name } });
        }
        const expression = {
            BinaryExpression: (node) =>
                OPERATORS.has(node.operator) &&
                !(node.operator === "-" && (isNow(node.left) || isNow(node.right))) &&
                !isOrder(node) &&
                check(node, [node.left, node.right]),
            AssignmentExpression: (node) => OPERATORS.has(node.operator.slice(0, -1)) && check(node, [node.right]),
        };
        const services = context.sourceCode.parserServices;
        return services.defineTemplateBodyVisitor ? services.defineTemplateBodyVisitor(expression, expression) : expression;
    },
};
