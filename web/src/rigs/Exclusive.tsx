import type { RigSource } from "./source";

/** Contacts of which the hardware can read only one at a time. */
export function Exclusive({ source, contacts, onChange }: { source: RigSource; contacts: string[]; onChange: (source: RigSource) => void }) {
  const group = source.exclusive?.[0] ?? [];
  if (contacts.length < 2) return null;
  const toggle = (name: string) => {
    const next = group.includes(name) ? group.filter((other) => other !== name) : [...group, name];
    const rest = (source.exclusive ?? []).slice(1);
    const groups = next.length > 1 ? [next, ...rest] : next.length === 1 && !group.includes(name) ? [[...next, contacts.find((other) => other !== name) ?? name], ...rest] : rest;
    const changed = { ...source, exclusive: groups };
    if (!groups.length) delete (changed as Partial<RigSource>).exclusive;
    onChange(changed);
  };
  return (
    <fieldset className="border-t border-rule pt-1.5 text-[14px]">
      <legend className="sr-only">Read one at a time</legend>
      <p>Only one of these can be read at a time</p>
      <p className="text-[12.5px] leading-tight text-soft">Some controllers have one line for several keys: pressed together they look like none.</p>
      <span className="mt-1 flex flex-wrap gap-x-3">
        {contacts.map((name) => (
          <label key={name} className="flex items-center gap-1">
            <input type="checkbox" checked={group.includes(name)} onChange={() => toggle(name)} />
            {name}
          </label>
        ))}
      </span>
    </fieldset>
  );
}
