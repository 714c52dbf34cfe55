import type { Rig } from "../api/types";
import { type Form, form, type Forms, valueForms } from "./forms";

/** What the floors of an exercise's cases have names for. */
export interface Places {
  marks: string[];
  corridors: string[];
  things: string[];
}

export const NO_PLACES: Places = { marks: [], corridors: [], things: [] };

/** The sentences that a check can say, with slots filled from what this rig and the cases' floors have. */
export function sentencesOf(rig: Rig, places: Places = NO_PLACES): Form[] {
  const contact = rig.parts.find((part) => part.contact);
  const reading = rig.parts.find((part) => part.role === "sensor" && !part.contact && !part.says);
  const motor = rig.parts.find((part) => part.role === "output" && part.unit === "%");
  const touch = contact ? `${contact.name} is pressed` : "clock > 1 s";
  const near = reading ? `${reading.name} < 40 ${reading.unit}` : "clock > 2 s";
  const between = reading ? `${reading.name} between 10 ${reading.unit} and 40 ${reading.unit}` : "clock between 1 s and 2 s";
  const moves = rig.has_drive ? "drive > 0 %" : motor ? `${motor.name} > 0 %` : "clock > 0 s";
  const rests = rig.has_drive ? "drive = 0 %" : motor ? `${motor.name} = 0 %` : "clock > 0 s";
  return [
    form("after …, within …, …", "something answers something in time", `after \${${touch}}, within \${150} ms, \${${rests}}`),
    form("while …, …", "holds all along in each stretch", `while \${${between}}, \${${moves}}`),
    form("from … to …, …", "holds from one moment to another", `from \${${near}} to \${${touch}}, \${${moves}}`),
    form("before …, never …", "not too early", `before \${${near}}, never \${${moves}}`),
    form("never … while …", "must not be", `never \${${moves}} while \${${touch}}`),
    form("always …", "holds in the whole run", `always \${${near}}`),
    form("… lasts … +- …", "how long a stretch is", `\${${moves}} lasts \${1.5} s +- \${0.2} s`),
    form("… happens at most … times", "how often", `\${${touch}} happens at most \${1} times`),
    form("first …, then …", "in this order", `first \${${near}}, then \${${touch}}`),
    form("at … s, …", "at one moment", `at \${5} s, \${${rests}}`),
    form("at the end, …", "when the run is over", `at the end, \${${rests}}`),
    ...(motor
      ? [
          form("… follows … within …", "is worked out from a reading", `while \${${between}}, ${motor.name} follows \${20 %} within \${5 %}`),
          form("… matches reference.… within …", "as the reference does it", `${motor.name} matches reference.${motor.name} within \${5 %}, shifted by at most \${150} ms`),
        ]
      : []),
    ...places.marks.map((name) => form(`ends within … of mark "${name}"`, "where it stops, on a floor", `ends within \${4} cm of mark "${name}"`)),
    ...places.corridors.map((name) => form(`stays inside "${name}"`, "keeps to a corridor, on a floor")),
    ...places.things.map((name) => form(`touches "${name}" at most … times`, "what it bumps into, on a floor", `touches "${name}" at most \${1} times`)),
    ...(places.things.length ? [form("touches anything at most … times", "whatever it bumps into, on a floor", "touches anything at most ${1} times")] : []),
    form("program uses …", "a word of the notation", "program uses ${repeat}"),
    form("program does not use …", "a word of the notation", "program does not use ${drive}"),
    form("program has at most … steps", "how long it is", "program has at most ${12} steps"),
    form("program has no hint …", "no such risk", 'program has no hint "${chatter}"'),
  ];
}

/** A whole check around a sentence. */
export function wholeCheck(sentence: Form): Form {
  let slots = 2;
  const inner = sentence.insert.replace(/\$\{\d+:/g, () => `\${${++slots}:`);
  return { ...sentence, insert: `check "\${1:Title}", \${2:2} points:\n    ${inner}\n` };
}

/** What a text of checks can hold. */
export function checkFormsOf(rig: Rig, places: Places = NO_PLACES): Forms {
  const outputs = rig.parts.filter((part) => part.role === "output");
  const sentences = sentencesOf(rig, places);
  return {
    sections: [form('check "…", … points:', "one sentence under it", 'check "${Title}", ${2} points:\n    ${sentence}'), form("let … = …", "names a value once", "let ${name} = ${40 cm}")],
    steps: sentences,
    endings: [form("within …", "in time, or near enough", "within ${150} ms"), form("while …", "only in these stretches", "while ${condition}")],
    values: [
      ...valueForms(rig).filter((item) => !item.label.includes("just ")),
      ...outputs.flatMap((part) => [form(part.name, "what it is commanded"), form(`reference.${part.name}`, "in the reference's run")]),
      ...(rig.has_drive ? [form("drive", "both wheels")] : []),
      ...places.marks.map((name) => form(`cart is within … of mark "${name}"`, "on a floor", `cart is within \${4} cm of mark "${name}"`)),
      ...places.corridors.map((name) => form(`cart is inside "${name}"`, "on a floor")),
      form("heading is … +- …", "on a floor", "heading is ${90} deg +- ${5} deg"),
    ],
  };
}
