import { type ReactNode, useRef } from "react";
import { Button } from "./controls";

interface Props {
  label: string;
  accept: string;
  disabled?: boolean;
  className?: string;
  onFiles(files: File[]): void;
  children: ReactNode;
}

/** A quiet button that asks for files; the same files can be chosen again. */
export function FileButton({ label, accept, disabled, className, onFiles, children }: Props) {
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
      <Button look="quiet" className={className} disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
