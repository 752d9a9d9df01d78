import { type ReactNode, useRef } from "react";
import { Button } from "./controls";

interface Props {
  label: string;
  accept: string;
  disabled?: boolean;
  className?: string;
  look?: "plain" | "quiet";
  onFiles(files: File[]): void;
  children: ReactNode;
}

/** A button that asks for files; the same files can be chosen again. */
export function FileButton({ label, accept, disabled, className, look = "quiet", onFiles, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        multiple
        accept={accept}
        className="hidden"
        aria-label={label}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          if (files.length) onFiles(files);
          e.target.value = "";
        }}
      />
      <Button look={look} className={className} disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
