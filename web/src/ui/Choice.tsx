interface Option {
  value: string;
  label: string;
}

/** A labelled choice from a short list. */
export function Choice({ label, value, options, onChange }: { label: string; value: string; options: Option[]; onChange: (value: string) => void }) {
  return (
    <label className="flex items-center gap-1.5 text-[13px] text-soft">
      {label}
      <select
        className="max-w-[13em] rounded border border-rule bg-sheet px-1.5 py-1 text-[14px] text-ink"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </label>
  );
}
