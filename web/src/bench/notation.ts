import { autocompletion, type Completion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import { HighlightStyle, LanguageSupport, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import type { Extension } from "@codemirror/state";
import { tags } from "@lezer/highlight";

import type { NotationWords, Part } from "../api/types";

/** Highlighting and completion of the notation, from the server's own word lists and the rig's parts. */
export function notation(words: NotationWords, parts: Part[], hasDrive: boolean): Extension {
  return [language(words, parts), syntaxHighlighting(STYLE), autocompletion({ override: [completer(words, parts, hasDrive)] })];
}

const STYLE = HighlightStyle.define([
  { tag: tags.keyword, color: "var(--word)", fontWeight: "600" },
  { tag: tags.number, color: "var(--leaf)" },
  { tag: tags.unit, color: "var(--leaf)" },
  { tag: tags.string, color: "var(--text-token)" },
  { tag: tags.comment, color: "var(--soft)", fontStyle: "italic" },
  { tag: tags.variableName, color: "var(--output)" },
  { tag: tags.operator, color: "var(--ink)" },
]);

function language(words: NotationWords, parts: Part[]): LanguageSupport {
  const known = new Set([...words.steps, ...words.words, ...words.functions]);
  const units = new Set(words.units);
  const names = new Set(parts.map((part) => part.name));
  const stream = StreamLanguage.define<{ afterNumber: boolean }>({
    startState: () => ({ afterNumber: false }),
    token(input, state) {
      const afterNumber = state.afterNumber;
      state.afterNumber = false;
      if (input.eatSpace()) {
        state.afterNumber = afterNumber;
        return null;
      }
      if (input.match(/^#.*/)) return "comment";
      if (input.match(/^"[^"]*"?/)) return "string";
      if (input.match(/^\d+(\.\d+)?/)) {
        state.afterNumber = true;
        return "number";
      }
      if (input.match("%")) return "unit";
      if (input.match(/^[\p{L}_][\p{L}\p{N}_]*/u)) {
        const word = input.current();
        if (units.has(word) && afterNumber) return "unit";
        if (names.has(word)) return "variableName";
        return known.has(word) ? "keyword" : null;
      }
      input.next();
      return "operator";
    },
    languageData: { commentTokens: { line: "#" } },
    tokenTable: { unit: tags.unit },
  });
  return new LanguageSupport(stream);
}

function completer(words: NotationWords, parts: Part[], hasDrive: boolean) {
  const outputs = parts.filter((part) => part.role === "output");
  const sensors = parts.filter((part) => part.role === "sensor");
  const steps: Completion[] = [
    ...words.steps.filter((word) => hasDrive || (word !== "drive" && word !== "turn")).map((label) => ({ label, type: "keyword" })),
    ...outputs.map((part) => ({ label: `${part.name} at `, detail: `${part.kind}, ${part.unit}`, type: "variable" })),
  ];
  const values: Completion[] = [
    ...sensors.map((part) => ({
      label: part.contact ? `${part.name} is pressed` : part.name,
      detail: part.contact ? part.kind : `${part.kind}, ${part.unit}`,
      type: "variable",
    })),
    ...[...words.words, ...words.functions].map((label) => ({ label, type: "keyword" })),
  ];
  return (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[\p{L}_][\p{L}\p{N}_]*/u);
    if (!word && !context.explicit) return null;
    const from = word?.from ?? context.pos;
    const line = context.state.doc.lineAt(context.pos);
    const atStart = line.text.slice(0, from - line.from).trim() === "";
    const inComment = line.text.slice(0, from - line.from).includes("#");
    if (inComment) return null;
    const lets = [...context.state.doc.toString().matchAll(/^\s*(?:let|set)\s+([\p{L}_][\p{L}\p{N}_]*)/gmu)].map((match) => ({
      label: match[1] ?? "",
      detail: "named above",
      type: "variable",
    }));
    return { from, options: atStart ? steps : [...lets, ...values, ...outputs.map((part) => ({ label: part.name, detail: part.kind, type: "variable" }))] };
  };
}
