import { ChevronRight } from "lucide-react";
import type { Apart, Role } from "../../api/apart";
import { NumberField } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

const WORD: Record<string, string> = {
  shoulder: "shoulder",
  elbow: "elbow",
  radiocarpal: "wrist",
  hip: "hip",
  knee: "knee",
  talocrural: "ankle",
  metatarsophalangeal: TEXT.ballOfTheFoot,
  sternoclavicular: "collarbone",
  humanoid_root: "root",
  vl5: TEXT.lowBack,
  vl1: "waist",
  vt6: "chest",
  vt1: TEXT.baseOfTheNeck,
  vc4: "neck",
  skullbase: "head",
};

interface Props {
  apart: Apart;
  open: boolean;
  onOpen(open: boolean): void;
  onKeep(roles: { roles?: Record<string, string>; places?: Record<string, [number, number, number]> }): void;
}

/** Which received joint does which work; a body without joints has ours, where its shape says they are. */
export function JointRoles({ apart, open, onOpen, onKeep }: Props) {
  const missing = apart.roles.filter((r) => r.needed && (apart.joints.length ? !r.joint : !r.place));
  const change = (role: Role, joint: string) => {
    const kept = Object.fromEntries(
      apart.roles.flatMap((r) => (r.joint && r.role !== role.role ? [[r.role, r.joint]] : [])),
    );
    onKeep({ roles: joint ? { ...kept, [role.role]: joint } : kept });
  };
  const move = (role: Role, axis: number, value: number) => {
    const places = Object.fromEntries(apart.roles.flatMap((r) => (r.place ? [[r.role, [...r.place]]] : []))) as Record<
      string,
      [number, number, number]
    >;
    const place = places[role.role];
    if (place) place[axis] = value / 100;
    onKeep({ places });
  };
  return (
    <section aria-label={TEXT.joints} className="mt-3">
      <button
        type="button"
        aria-expanded={open}
        className="flex w-full cursor-pointer items-center border-b border-dashed border-rule py-1.5 hover:text-heron"
        onClick={() => onOpen(!open)}
      >
        <ChevronRight size={13} className={open ? "mr-1 rotate-90" : "mr-1"} /> {TEXT.joints}
        <span className={missing.length ? "ml-auto text-amber" : "ml-auto text-soft"}>
          {missing.length
            ? TEXT.notFound(missing.length)
            : apart.joints.length
              ? TEXT.ofTold(apart.roles.filter((r) => r.joint).length, apart.roles.length)
              : TEXT.oursToldByIts}
        </span>
      </button>
      {open && (
        <ul className="py-1">
          {apart.roles.map((r) => (
            <li key={r.role} className="flex items-center gap-2 py-0.5 text-[12px]">
              <span className="w-28 shrink-0 text-soft">{label(r.role)}</span>
              {apart.joints.length ? (
                <Select
                  label={label(r.role)}
                  className="min-w-0 flex-1"
                  value={r.joint ?? ""}
                  onChoose={(v) => change(r, v)}
                >
                  <option value="">{TEXT.none}</option>
                  {apart.joints.map((j) => (
                    <option key={j}>{j}</option>
                  ))}
                </Select>
              ) : r.place ? (
                <span className="flex flex-1 gap-1">
                  {["x", "y", "z"].map((axis, k) => (
                    <NumberField
                      key={axis}
                      label={axis}
                      unit="cm"
                      value={(r.place?.[k] ?? 0) * 100}
                      onCommit={(v) => move(r, k, v)}
                    />
                  ))}
                </span>
              ) : (
                <span className="text-soft">{TEXT.asOnOurFigure}</span>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function label(role: string): string {
  const side = role.startsWith("l_") ? "left " : role.startsWith("r_") ? "right " : "";
  const plain = side ? role.slice(2) : role;
  return `${side}${WORD[plain] ?? plain}`;
}
