const PROGRAMS = /\.(geduld|py|c|cc|cpp|cxx|h|hpp|csv|vcd|zip)$/i;

/** The files of a chosen folder that may be hand-ins, or parts of one: none that an editor or a system has put there. */
export function programsIn(files: File[]): File[] {
  return files.filter((file) => PROGRAMS.test(file.name) && !file.webkitRelativePath.split("/").some((step) => /^(\.|__)(?!main__)/.test(step)));
}

/** Whether a file is a zip, which may hold a whole class. */
export function isZip(file: File): boolean {
  return /\.zip$/i.test(file.name);
}

/** Where files stand in the folder that was chosen; nothing where they were chosen one by one. */
export function pathsOf(files: File[]): string[] {
  return files.every((file) => file.webkitRelativePath) ? files.map((file) => file.webkitRelativePath) : [];
}
