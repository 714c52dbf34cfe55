import { Button } from "../ui/Button";
import { Typed } from "./FieldForm";
import type { RigSource } from "./source";

/** The controller's ports, and what each can carry; without any, every port is allowed. */
export function Ports({ source, onChange }: { source: RigSource; onChange: (source: RigSource) => void }) {
  const ports = Object.entries(source.ports ?? {});
  const put = (next: [string, string[]][]) => {
    const changed: RigSource = { ...source, ports: Object.fromEntries(next) };
    if (!next.length) delete changed.ports;
    onChange(changed);
  };
  const own = () => put(Object.values(source.parts).map((part) => [part.port, [part.kind]]));
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Ports of the controller">
      <h3 className="font-bold">Ports of the controller</h3>
      <p className="text-[12.5px] leading-tight text-soft">With them a plug in the wrong port is noticed here, not on the robot. Without any, every port is allowed.</p>
      {ports.map(([port, kinds], index) => (
        <div key={port} className="mt-1 flex items-center gap-1.5">
          <Typed label={`Name of port ${index + 1}`} value={port} hint="" narrow onChange={(name) => name && put(ports.map((item, at) => (at === index ? [name, kinds] : item)))} />
          <Typed wide label={`What ${port} carries`} value={kinds.join(", ")} hint="anything" onChange={(text) => put(ports.map((item, at) => (at === index ? [port, wordsOf(text)] : item)))} />
          <Button small aria-label={`Delete port ${port}`} onClick={() => put(ports.filter((_, at) => at !== index))}>
            Delete
          </Button>
        </div>
      ))}
      <span className="mt-1.5 flex gap-1.5">
        <Button small onClick={() => put([...ports, [freeName(ports.map(([port]) => port)), []]])}>
          Add a port
        </Button>
        {!ports.length && (
          <Button small onClick={own}>
            Those that are used
          </Button>
        )}
      </span>
    </section>
  );
}

/** Words that stand between commas or spaces. */
export function wordsOf(text: string): string[] {
  return text.split(/[\s,;]+/).filter(Boolean);
}

function freeName(taken: string[]): string {
  for (let number = 1; ; number++) if (!taken.includes(`P${number}`)) return `P${number}`;
}
