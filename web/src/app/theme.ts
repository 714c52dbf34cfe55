import { useLayoutEffect } from "react";
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

export const useTheme = create<Theme>((set, get) => ({
  dark: atFirst(),
  toggle: () => {
    const dark = !get().dark;
    localStorage.setItem(KEY, dark ? "yes" : "no");
    set({ dark });
  },
}));

/** Puts the theme on the page before anything is drawn, so that canvases read the right colours. */
export function useThemeOnPage(): void {
  const dark = useTheme((theme) => theme.dark);
  useLayoutEffect(() => {
    document.documentElement.classList.toggle("dark", dark);
  }, [dark]);
}

/** A colour of the look, for canvases. */
export function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}
