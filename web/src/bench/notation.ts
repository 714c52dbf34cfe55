import { acceptCompletion, autocompletion, type Completion, type CompletionContext, completionStatus, type CompletionResult, selectedCompletionIndex, setSelectedCompletion, snippetCompletion } from "@codemirror/autocomplete";
import { HighlightStyle, LanguageSupport, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { type Extension, Prec } from "@codemirror/state";
import { type EditorView, keymap } from "@codemirror/view";
import { tags } from "@lezer/highlight";

import type { NotationWords, Part, Rig } from "../api/generated";
import { type Form, type Forms, formsOf, withEnd } from "../model/forms";

/** Highlighting and completion of the notation: the server's own words, and the forms that this rig can do or a check can say. */
export function notation(words: NotationWords, rig: Rig, forms: Forms = formsOf(rig)): Extension {
  return [
    language(words, rig.parts),
    syntaxHighlighting(STYLE),
    autocompletion({ icons: false, override: [completer(words, forms)], selectOnOpen: false, interactionDelay: 0 }),
    Prec.highest(keymap.of([{ key: "Tab", run: take }])),
  ];
}

/** Tab takes what is suggested, the first if none was chosen. Enter takes only what the arrows chose, and is a new line else. */
function take(view: EditorView): boolean {
  if (completionStatus(view.state) !== "active") return false;
  if (selectedCompletionIndex(view.state) === null) view.dispatch({ effects: setSelectedCompletion(0) });
  return acceptCompletion(view);
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

/** Names that the text itself gives: lets, values, timers, and routines. */
function named(text: string): { values: Completion[]; routines: Completion[] } {
  const found = (pattern: RegExp, detail: string) => [
    ...new Map([...text.matchAll(pattern)].map((match) => [match[1], { label: match[1] ?? "", detail, type: "variable" }])).values(),
  ];
  return {
    values: [...found(/^\s*(?:let|set)\s+([\p{L}_][\p{L}\p{N}_]*)/gmu, "named above"), ...found(/^\s*start timer\s+([\p{L}_][\p{L}\p{N}_]*)/gmu, "a timer")],
    routines: found(/^to\s+([\p{L}_][\p{L}\p{N}_]*)/gmu, "a routine"),
  };
}

function completer(words: NotationWords, forms: Forms) {
  const offered = (list: Form[], boost = 0) => list.map((item) => snippetCompletion(withEnd(item.insert), { label: item.label, detail: item.detail, type: "keyword", boost }));
  const sections = offered(forms.sections);
  const steps = offered(forms.steps);
  const endings = offered(forms.endings, 1);
  const values = [...offered(forms.values), ...words.functions.map((label) => ({ label, type: "keyword" }))];
  return (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[\p{L}_][\p{L}\p{N}_.]*/u);
    if (!word && !context.explicit) return null;
    const from = word?.from ?? context.pos;
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, from - line.from);
    if (before.includes("#") || (before.match(/"/g)?.length ?? 0) % 2) return null;
    const own = named(context.state.doc.toString());
    if (before === "") return { from, options: sections };
    if (before.trim() === "" || /^\s*(over|under|absent|[\d.]+).*:\s*$/.test(before)) return { from, options: [...own.routines, ...steps] };
    const acting = /\b(at|follows|stop|on|off)\b/.test(before) && !/\buntil\b/.test(before);
    return { from, options: [...(acting ? endings : offered(forms.endings.filter((item) => item.label.startsWith(",")))), ...own.values, ...values] };
  };
}
