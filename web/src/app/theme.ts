import { create } from "zustand";

interface Theme {
  dark: boolean;
  toggle: () => void;
}

const KEY = "geduld-dark";

function atFirst(): boolean {
  const kept = localStorage.getItem(KEY);
  return kept === null ? matchMedia("(prefers-color-scheme: dark)").matches : kept === "yes";
}

/** Puts the theme on the page, before anybody who draws is told of it: canvases read the page's colours. */
function onPage(dark: boolean): boolean {
  document.documentElement.classList.toggle("dark", dark);
  return dark;
}

export const useTheme = create<Theme>((set, get) => ({
  dark: onPage(atFirst()),
  toggle: () => {
    const dark = onPage(!get().dark);
    localStorage.setItem(KEY, dark ? "yes" : "no");
    set({ dark });
  },
}));

/** A colour of the look, for canvases. */
export function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}
