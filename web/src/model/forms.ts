import type { Part, Rig } from "../api/generated";

/** Something to write: its words, what it is for, and the text with its slots as `${…}`. */
export interface Form {
  label: string;
  detail: string;
  insert: string;
}

export interface Forms {
  /** At the left margin. */
  sections: Form[];
  /** At the start of a step. */
  steps: Form[];
  /** Behind what an output is set to. */
  endings: Form[];
  /** Inside a condition or a value. */
  values: Form[];
}

/** A form; its slots are numbered, so that Tab goes through them in their order. */
export function form(label: string, detail: string, text = label): Form {
  let slot = 0;
  return { label, detail, insert: text.replace(/\$\{([^}]*)\}/g, (_, filled: string) => `\${${++slot}:${filled}}`) };
}

/** A form whose last slot Tab leaves for its end: it would indent the line there otherwise. */
export function withEnd(insert: string): string {
  return insert.includes("${") ? `${insert}\${}` : insert;
}

const AMOUNTS: Record<string, string> = { "%": "40 %", deg: "90 deg", Hz: "440 Hz", "": "50" };

/** What this rig can do, in the notation's forms: nothing is offered that it cannot. */
export function formsOf(rig: Rig): Forms {
  const outputs = rig.parts.filter((part) => part.role === "output");
  const motors = outputs.filter((part) => part.kind === "motor");
  const encoder = motors.find((part) => part.encoder);
  const ways = rig.drive_is_measured || rig.drive_is_timed;
  const contact = rig.parts.find((part) => part.contact);
  const reading = rig.parts.find((part) => part.role === "sensor" && !part.contact && !part.says);
  return {
    sections: sections(rig),
    steps: [
      ...(rig.has_drive ? drives(rig, ways) : []),
      ...outputs.flatMap(outputSteps),
      ...waits(contact, reading),
      ...blocks(contact, reading),
      form("set … to …", "keeps a value", "set ${n} to ${0}"),
      form("start timer …", "counts the time from here on", "start timer ${t}"),
      ...(encoder ? [form("reset ….angle", "counts from nothing again", `reset \${${encoder.name}}.angle`)] : []),
      ...(rig.parts.some((part) => part.says) ? [form("reset message", "only a message from now on counts")] : []),
      form('send "…"', "a message to whoever listens", 'send "${text}"'),
      form('note "…"', "an event in the record", 'note "${text}"'),
      form("leave", "goes on behind the repeat"),
      form('finish "…"', "ends the program", 'finish "${why}"'),
      ...(motors.length ? [form("stop all", "stops every motor, lamp and buzzer")] : []),
    ],
    endings: [
      form("for … s", "ends after a time", "for ${1.5} s"),
      form("until …", "ends when a condition holds", "until ${condition}"),
      ...(ways ? [form("for … cm", "ends after a way, travelled", "for ${30} cm"), form("for … deg", "ends after a way, turned", "for ${360} deg")] : []),
      ...(rig.drive_is_measured ? [form("for … deg by encoder", "counted", "for ${360} deg by encoder")] : []),
      ...(rig.drive_is_timed ? [form("for … cm by time", "by the calibration", "for ${30} cm by time")] : []),
      form(", held … ms", "must hold so long", ", held ${50} ms"),
      form(", patience … s", "and goes on without it after that", ", patience ${5} s"),
      form(", keep going", "does not stop at the end"),
      ...(rig.has_drive ? ["centre", "left wheel", "right wheel"].map((pivot) => form(`about ${pivot}`, "what a turn turns about")) : []),
      form("by braking", "how a motor stops"),
      form("by coasting", "how a motor stops"),
    ],
    values: valueForms(rig),
  };
}

function sections(rig: Rig): Form[] {
  return [
    form("begin:", "where the program starts", "begin:\n    ${step}"),
    form("let … = …", "names a value once", "let ${name} = ${40 cm}"),
    ...rig.parts.filter((part) => part.role === "output").slice(0, 1).map((part) => form("let … = a part", "another name for an output", `let \${name} = \${${part.name}}`)),
    form("let …(…) = …", "names a formula", "let ${speed}(${gap}) = ${gap * 2 %/cm}"),
    form("to …:", "a routine", "to ${name}:\n    ${step}"),
    form("to … with …:", "a routine with values", "to ${name} with ${pace}:\n    ${step}"),
    ...rig.libraries.map((name) => form(`include "${name}"`, "its routines and names")),
    form(`for rig "${rig.name}"`, "which rig it is written for"),
    form('behaviour "…"', "the program's name", 'behaviour "${name}"'),
    form('library "…"', "routines for other programs", 'library "${name}"'),
  ];
}

function drives(rig: Rig, ways: boolean): Form[] {
  const turns = [
    form("drive at … % for … cm", "both wheels, a measured way", "drive at ${40} % for ${30} cm"),
    form("turn left at … % for … deg", "on the spot, measured", "turn left at ${30} % for ${90} deg"),
    form("turn right at … % for … deg", "on the spot, measured", "turn right at ${30} % for ${90} deg"),
    form("turn left at … % about left wheel for … deg", "round one wheel", "turn left at ${30} % about left wheel for ${90} deg"),
  ];
  return [
    form("drive at … % for … s", "both wheels, for a time", "drive at ${40} % for ${1} s"),
    form("drive at … % until …", "both wheels, until something", "drive at ${40} % until ${condition}"),
    ...(ways ? turns : [form("turn left at … % for … s", "on the spot, for a time", "turn left at ${30} % for ${0.8} s")]),
    ...(rig.drive_is_measured && rig.drive_is_timed ? [form("drive at … cm/s until …", "both wheels, at a kept speed", "drive at ${12} cm/s until ${condition}")] : []),
    form("drive follows … until …", "keeps setting both wheels", "drive follows ${value} until ${condition}"),
    form("stop drive", "in the rig's way"),
    form("stop drive by braking", "short"),
    form("stop drive by coasting", "rolls out"),
  ];
}

function outputSteps(part: Part): Form[] {
  const amount = AMOUNTS[part.unit] ?? `1 ${part.unit}`;
  const steps = [form(`${part.name} at …`, [part.kind, part.unit].filter(Boolean).join(", "), `${part.name} at \${${amount}}`)];
  if (part.kind === "lamp") steps.push(form(`${part.name} on`, "100 %"), form(`${part.name} off`, "0 %"));
  if (part.kind === "servo" || part.kind === "stepper" || part.kind === "lamp") {
    if (part.kind === "stepper") steps.push(form(`${part.name} at … deg/s for … s`, "turns on at a speed", `${part.name} at \${360} deg/s for \${2} s`));
    steps.push(form(`${part.name} from … to … over … s`, "evenly", `${part.name} from \${${amount}} to \${${amount}} over \${2} s`));
  }
  return steps;
}

function waits(contact: Part | undefined, reading: Part | undefined): Form[] {
  return [
    form("wait … s", "a time", "wait ${1} s"),
    form("wait until …", "until something", "wait until ${condition}"),
    ...(contact ? [form(`wait until ${contact.name} is just pressed`, "a new press", `wait until ${contact.name} is just pressed`)] : []),
    ...(reading ? [form(`wait until ${reading.name} … , patience …`, "and what then", `wait until ${reading.name} < \${40 ${reading.unit}}, patience \${5} s\n    otherwise:\n        \${step}`)] : []),
  ];
}

function blocks(contact: Part | undefined, reading: Part | undefined): Form[] {
  return [
    form("repeat:", "for ever", "repeat:\n    ${step}"),
    form("repeat … times:", "so often", "repeat ${3} times:\n    ${step}"),
    form("repeat while …:", "as long as", "repeat while ${condition}:\n    ${step}"),
    form("repeat until …:", "until something", "repeat until ${condition}:\n    ${step}"),
    form("if …:", "when something holds", "if ${condition}:\n    ${step}"),
    form("if …: else:", "one or the other", "if ${condition}:\n    ${step}\nelse:\n    ${step}"),
    ...(reading ? [form(`by ${reading.name}, slack …:`, "bands, with room to tremble", `by ${reading.name}, slack \${2} ${reading.unit}:\n    over \${40} ${reading.unit}: \${step}\n    under \${40} ${reading.unit}: \${step}`)] : []),
    form("do: unless …:", "abandoned the moment it holds", `do:\n    \${step}\nunless \${${contact ? `${contact.name} is pressed` : "condition"}}:\n    \${step}`),
    ...(reading ? [form(`by ${reading.name}: … both ends`, "bands, and who owns an edge", `by ${reading.name}:\n    over \${40} ${reading.unit}: \${step}\n    \${12} ${reading.unit} to \${40} ${reading.unit}, both ends: \${step}\n    under \${12} ${reading.unit}: \${step}`)] : []),
    form("do: unless …, held …:", "abandoned when it has held so long", `do:\n    \${step}\nunless \${${contact ? `${contact.name} is pressed` : "condition"}}, held \${0.4} s:\n    \${step}`),
    form("side by side:", "at the same time", "side by side:\n    lane ${one}:\n        ${step}\n    lane ${two}:\n        ${step}"),
  ];
}

/** What can be read, and what can be made of it. */
export function valueForms(rig: Rig): Form[] {
  const sensors = [...rig.parts, ...rig.properties].filter((part) => part.role === "sensor");
  return [
    ...sensors.flatMap((part) => {
      if (part.says) return [form('message is "…"', part.kind, 'message is "${text}"')];
      if (part.contact) return ["pressed", "released", "just pressed", "just released"].map((state) => form(`${part.name} is ${state}`, part.kind));
      return [form(part.name, [part.kind, part.unit].filter(Boolean).join(", "))];
    }),
    form("is absent", "no reading"),
    form("between … and …", "both ends included", "between ${10 cm} and ${20 cm}"),
    form("clock", "the time since the start"),
    form("scale(…, from … to …, to … to …)", "kept between its ends", "scale(${value}, from ${0 %} to ${100 %}, to ${0 deg} to ${90 deg})"),
    form("clamp(…, …, …)", "kept between two values", "clamp(${value}, ${-40 %}, ${40 %})"),
    ...(rig.has_drive ? ["wheel.diameter", "wheel.circumference", "track.width"].map((size) => form(size, "a size of the rig")) : []),
  ];
}
