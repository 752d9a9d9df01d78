import { Moon, Sun } from "lucide-react";
import { chooseLamp, useLamp } from "../theme/theme";
import { Hint } from "./controls";
import { TEXT } from "./texts";

/** Turns the page from day light to lamp light and back. */
export function Lamp() {
  const lamp = useLamp();
  const text = lamp ? TEXT.dayLight : TEXT.lampLight;
  return (
    <Hint text={text}>
      <button
        type="button"
        aria-label={text}
        className="cursor-pointer p-1 text-soft hover:text-ink"
        onClick={() => chooseLamp(!lamp)}
      >
        {lamp ? <Sun size={16} /> : <Moon size={16} />}
      </button>
    </Hint>
  );
}

/** The name of the application. */
export function Wordmark() {
  return (
    <span className="font-title text-[17px] font-semibold">
      {TEXT.wily} <em className="text-heron">{TEXT.heron}</em>
    </span>
  );
}
