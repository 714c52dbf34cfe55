import type { ButtonHTMLAttributes } from "react";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  small?: boolean;
  active?: boolean;
  strong?: boolean;
}

/** A button: quiet by default, `strong` for the one thing to do next. */
export function Button({ small, active, strong, className = "", type = "button", ...rest }: Props) {
  const size = small ? "px-2 py-1 text-[13px]" : "px-3 py-1.5";
  const look = strong
    ? "border-leaf bg-leaf text-paper hover:brightness-110"
    : active
      ? "border-leaf bg-leaf-wash text-ink"
      : "border-rule bg-sheet text-ink hover:bg-sunk";
  return (
    <button
      type={type}
      className={`inline-flex items-center justify-center gap-1.5 rounded border whitespace-nowrap disabled:opacity-50 ${size} ${look} ${className}`}
      {...rest}
    />
  );
}
