import { cppLanguage } from "@codemirror/lang-cpp";
import { pythonLanguage } from "@codemirror/lang-python";
import { HighlightStyle, LanguageSupport, syntaxHighlighting } from "@codemirror/language";
import type { Extension } from "@codemirror/state";
import { tags } from "@lezer/highlight";

const STYLE = HighlightStyle.define([
  { tag: [tags.keyword, tags.operatorKeyword, tags.modifier, tags.processingInstruction], color: "var(--word)", fontWeight: "600" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--leaf)" },
  { tag: [tags.string, tags.character], color: "var(--text-token)" },
  { tag: tags.comment, color: "var(--soft)", fontStyle: "italic" },
  { tag: [tags.function(tags.variableName), tags.function(tags.propertyName), tags.typeName], color: "var(--output)" },
]);

const SUPPORT = { python: new LanguageSupport(pythonLanguage), c: new LanguageSupport(cppLanguage) };

/** Highlighting of a program in Python or C. */
export function codeIn(language: "python" | "c"): Extension {
  return [SUPPORT[language], syntaxHighlighting(STYLE)];
}
