import { type ReactNode, useEffect, useRef } from "react";

import { Button } from "./Button";

interface Props {
  accept?: string;
  /** Asks for a folder, with all in it. */
  folder?: boolean;
  multiple?: boolean;
  large?: boolean;
  children: ReactNode;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files, or for a folder. */
export function UploadButton({ accept, folder, multiple, large, children, onFiles }: Props) {
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (input.current) input.current.webkitdirectory = folder ?? false;
  }, [folder]);
  return (
    <>
      <Button small={!large} onClick={() => input.current?.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        multiple={multiple}
        hidden
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length) onFiles(files);
        }}
      />
    </>
  );
}
