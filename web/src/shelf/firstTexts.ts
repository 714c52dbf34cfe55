/** The text that a new behaviour starts with. */
export const FIRST_TEXT = (title: string, rig: string) => `behaviour "${title}"\nfor rig "${rig}"\n\nbegin:\n    wait 1 s\n`;

/** The text that a new wordbook starts with. */
export const FIRST_WORDS = (rig: string) => `wordbook "class words"\nfor rig "${rig}"\nreads python\nmodule robot\n\nword rest(time in s):\n    wait time\n`;
