import type { CheckSentence, Rig } from "../api/generated";
import { type Form, form, type Forms, valueForms } from "./forms";

/** What the floors of an exercise's cases have names for. */
export interface Places {
  marks: string[];
  corridors: string[];
  things: string[];
}

export const NO_PLACES: Places = { marks: [], corridors: [], things: [] };

/**
 * The sentences that a check can say, with slots filled from what this rig and the cases' floors have. `seen` are
 * conditions with numbers that a recording suggests.
 */
export function sentencesOf(sentences: CheckSentence[], rig: Rig, places: Places = NO_PLACES, seen: string[] = []): Form[] {
  const fillings = fillingsOf(rig, seen);
  return sentences.flatMap(({ label, detail, insert, needs }) =>
    namesFor(needs, fillings, places).map((name) => {
      const filled = (text: string) => text.replace(/<(\w+)>/g, (_, key: string) => (key === needs ? name : (fillings[key] ?? key)));
      return form(filled(label), detail, filled(insert));
    }),
  );
}

/** The names with which a form means something: one form for each; one without a name where it needs none. */
function namesFor(needs: string, fillings: Record<string, string>, places: Places): string[] {
  switch (needs) {
    case "":
      return [""];
    case "mark":
      return places.marks;
    case "corridor":
      return places.corridors;
    case "thing":
      return places.things;
    case "things":
      return places.things.slice(0, 1);
    default:
      return fillings[needs] ? [fillings[needs]] : [];
  }
}

function fillingsOf(rig: Rig, seen: string[]): Record<string, string> {
  const contact = rig.parts.find((part) => part.contact);
  const reading = rig.parts.find((part) => part.role === "sensor" && !part.contact && !part.says);
  const motor = rig.parts.find((part) => part.role === "output" && part.unit === "%");
  const moved = rig.has_drive ? "drive" : motor?.name;
  return {
    touch: contact ? `${contact.name} is pressed` : "clock > 1 s",
    near: seen.find((condition) => / [<>] /.test(condition)) ?? (reading ? `${reading.name} < 40 ${reading.unit}` : "clock > 2 s"),
    between: reading ? `${reading.name} between 10 ${reading.unit} and 40 ${reading.unit}` : "clock between 1 s and 2 s",
    moves: moved ? `${moved} > 0 %` : "clock > 0 s",
    rests: moved ? `${moved} = 0 %` : "clock > 0 s",
    motor: motor?.name ?? "",
    drive: rig.has_drive ? "drive" : "",
  };
}

/** What can be asked of what this rig does. */
export function conditionsOnOutputs(rig: Rig): string[] {
  const motors = rig.parts.filter((part) => part.role === "output" && part.unit === "%").map((part) => part.name);
  return [...(rig.has_drive ? ["drive"] : []), ...motors].flatMap((name) => [`${name} > 0 %`, `${name} = 0 %`, `${name} < 0 %`]);
}

/** What a text of checks can hold. */
export function checkFormsOf(sentences: CheckSentence[], rig: Rig, places: Places = NO_PLACES): Forms {
  const outputs = rig.parts.filter((part) => part.role === "output");
  const motor = outputs.find((part) => part.kind === "motor")?.name;
  return {
    sections: [form('check "…", … points:', "one sentence under it", 'check "${Title}", ${2} points:\n    ${sentence}'), form("let … = …", "names a value once", "let ${name} = ${40 cm}")],
    steps: sentencesOf(sentences, rig, places),
    endings: [form("within …", "in time, or near enough", "within ${150} ms"), form("while …", "only in these stretches", "while ${condition}")],
    values: [
      ...valueForms(rig).filter((item) => !item.label.includes("just ")),
      ...outputs.flatMap((part) => [form(part.name, "what it is commanded"), form(`reference.${part.name}`, "in the reference's run")]),
      ...(rig.has_drive ? [form("drive", "both wheels")] : []),
      ...places.marks.map((name) => form(`cart is within … of mark "${name}"`, "on a floor", `cart is within \${4} cm of mark "${name}"`)),
      ...places.corridors.map((name) => form(`cart is inside "${name}"`, "on a floor")),
      ...(motor ? [form("still", "no motor is driven"), form(`${motor} is braking`, "short-circuited"), form(`${motor} keeps … +- …`, "really turns so fast", `${motor} keeps \${200} deg/s +- \${10} %`)] : []),
      form('sent "…"', "the instant of a message", 'sent "${done}"'),
      form('noted "…"', "the instant of a note", 'noted "${done}"'),
      form('finished "…"', "from the program's end on", 'finished "${done}"'),
      form("heading is … +- …", "on a floor", "heading is ${90} deg +- ${5} deg"),
    ],
  };
}
