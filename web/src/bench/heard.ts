import type { BenchAnswer, Hint } from "../api/generated";
import { counted, show } from "../model/numbers";

const VERDICTS = [
  ["pass", "passes", "pass"],
  ["part", "gets a part of its points", "get a part of their points"],
  ["fail", "fails", "fail"],
  ["not exercised", "is not exercised", "are not exercised"],
  ["not certain", "is not certain", "are not certain"],
] as const;

/** What a reader of the screen hears when a run has changed, in one sentence: how it ended, what the checks say, how many messages there are. */
export function heardOf(answer: BenchAnswer | undefined): string {
  if (!answer) return "";
  const found = messages(answer.hints);
  if (!answer.run) return `${found}.`;
  const ended = endSentence(answer.run.why, answer.run.ended_at, answer.run.said).replace(/\.$/, "");
  const checks = VERDICTS.flatMap(([verdict, one, several]) => {
    const count = answer.checks.filter((check) => check.verdict === verdict).length;
    return count ? [`${counted(count, "check")} ${count === 1 ? one : several}`] : [];
  });
  return `${[ended, ...checks, found].join("; ")}.`;
}

function messages(hints: Hint[]): string {
  const errors = hints.filter((hint) => hint.level === "error").length;
  const others = hints.length - errors;
  const said = [...(errors ? [counted(errors, "error")] : []), ...(others ? [counted(others, "other message")] : [])];
  return said.join(", ") || "No message";
}

/** How a run ended, as a sentence. */
export function endSentence(why: string, at: number, said: string): string {
  const time = show(at);
  switch (why) {
    case "finished":
      return `The program finished${said ? `, saying "${said}",` : ""} at ${time} s.`;
    case "live":
      return "The program goes on.";
    case "time":
      return "The program was still running when the run ended.";
    case "stopped":
      return `A hand stopped everything at ${time} s.`;
    case "idle":
      return `From ${time} s on the program goes round and does nothing more; the outputs stay as they are.`;
    case "error":
      return `The program broke off at ${time} s; on a real robot it would stop there too, with its outputs as they are.`;
    default:
      return `A limit ended the run at ${time} s.`;
  }
}
