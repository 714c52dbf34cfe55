import { type ReactNode, useRef } from "react";

import { Button } from "./Button";

interface Props {
  accept: string;
  multiple?: boolean;
  large?: boolean;
  children: ReactNode;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files. */
export function UploadButton({ accept, multiple, large, children, onFiles }: Props) {
  const input = useRef<HTMLInputElement>(null);
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
