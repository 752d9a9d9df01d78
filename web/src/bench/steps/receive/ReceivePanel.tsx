import { CATEGORIES } from "../../../api/categories";
import type { Piece } from "../../../api/client";
import { useChangePiece } from "../../../api/hooks";
import { item } from "../../../recipe/at";
import { fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Button } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import { Fact } from "../../Fact";
import type { StepProps } from "../../step";
import { MadeForChoice } from "./MadeForChoice";
import { MissingTextures } from "./MissingTextures";
import { WornColourway } from "./WornColourway";

const UPS = [
  ["auto", "find out"],
  ["y", "Y"],
  ["z", "Z"],
] as const;
const HANDS = [
  ["auto", "find out"],
  ["right", "right-handed"],
  ["left", "left-handed"],
] as const;
const FACINGS = [
  ["auto", "find out"],
  ["front", "to the front"],
  ["back", "to the back"],
] as const;
const UNITS = [
  ["auto", "find out"],
  ["m", "metres"],
  ["cm", "centimetres"],
  ["mm", "millimetres"],
  ["in", "inches"],
] as const;

export function ReceivePanel({ piece, onKeep }: Pick<StepProps, "piece" | "onKeep">) {
  const step = stepOf(piece.recipe, "receive") ?? fresh("receive");
  const found = piece.report.receive;
  const keep = (change: Partial<StepOf<"receive">>, label: string) =>
    onKeep({ ...step, ...change, kind: "receive" }, label);
  return (
    <div>
      {found ? (
        <>
          <Findings findings={found.findings} onKeep={(mends) => keep({ mends }, "Mend")} />
          {found.missing_textures.length > 0 && <MissingTextures piece={piece} missing={found.missing_textures} />}
          <MadeForChoice piece={piece} onKeep={(made_for) => keep({ made_for }, "Made for")} />
          <WornColourway piece={piece} />
          <dl className="mt-1.5 border-t border-dashed border-rule pt-1.5">
            <Fact name="File">{piece.file_name}</Fact>
            <Fact name="Unit" note={found.unit_why}>
              {found.unit_word}
            </Fact>
            <Fact name="Up" note={found.up_why}>
              {found.up === "z" ? "Z up, turned upright" : "Y up"}
            </Fact>
            <Fact name="Axes" note={found.stance_why}>
              {found.hand === "left" ? "left-handed, mirrored" : "right-handed"}
              {found.facing === "back" ? ", turned round" : ""}
            </Fact>
            <Fact name="Size">{found.size.map((x) => (x * 100).toFixed(1)).join(" × ")} cm</Fact>
            <Fact name="On the wearer">{(found.beside_wearer * 100).toFixed(0)} % of the stature</Fact>
            <Fact name="Parts">
              {found.parts}, largest {found.largest_part} of {found.vertices} vertices
            </Fact>
            <Fact name="Materials">{found.materials.join(", ")}</Fact>
            {found.textures.length > 0 && <Fact name="Textures">{found.textures.join(", ")}</Fact>}
            {found.joints > 0 && <Fact name="Came with">{came(found)}</Fact>}
            <Fact name="Open edges">{found.open_edges}</Fact>
            <Fact name="Left and right">
              {found.symmetric > 0.98 ? "alike" : `${(found.symmetric * 100).toFixed(0)} % alike`}
            </Fact>
            <Category piece={piece} />
          </dl>
        </>
      ) : (
        <p className="text-soft">Looking at the file…</p>
      )}
      <div className="mt-2 grid grid-cols-2 gap-2">
        <Choice label="Unit" of={UNITS} value={step.unit} onChoose={(unit) => keep({ unit }, "Set the unit")} />
        <Choice label="Up axis" of={UPS} value={step.up} onChoose={(up) => keep({ up }, "Set the up axis")} />
        <Choice label="Axes" of={HANDS} value={step.hand} onChoose={(hand) => keep({ hand }, "Set the axes")} />
        <Choice label="Looks" of={FACINGS} value={step.facing} onChoose={(facing) => keep({ facing }, "Turn it")} />
      </div>
    </div>
  );
}

function came(found: NonNullable<Piece["report"]["receive"]>): string {
  const more = [
    found.morphs.length && `${found.morphs.length} morphs`,
    found.clips.length && `${found.clips.length} clips`,
  ].filter(Boolean);
  return [`weights of ${found.joints} joints`, ...more].join(", ");
}

interface ChoiceProps<T extends string> {
  label: string;
  of: readonly (readonly [T, string])[];
  value: T | undefined;
  onChoose(value: T): void;
}

function Choice<T extends string>({ label, of, value, onChoose }: ChoiceProps<T>) {
  return (
    <label className="text-[11.5px] text-soft">
      {label}
      <Select
        label={label}
        className="mt-0.5 w-full text-[13px]"
        value={value ?? item(of, 0)[0]}
        onChoose={(v) => onChoose(v as T)}
      >
        {of.map(([id, word]) => (
          <option key={id} value={id}>
            {word}
          </option>
        ))}
      </Select>
    </label>
  );
}

/** What the piece looks like, and what the artist says it is. */
function Category({ piece }: { piece: Piece }) {
  const change = useChangePiece();
  const found = piece.report.receive;
  const why =
    found &&
    `Looks like a ${found.category} (${(found.category_sure * 100).toFixed(0)} % sure): ${found.category_why}.`;
  return (
    <Fact name="Category" note={why ?? undefined}>
      <Select
        label="Category"
        className="text-[13px]"
        value={piece.category}
        onChoose={(v) => change.mutate({ piece: piece.id, category: v as (typeof CATEGORIES)[number] })}
      >
        {CATEGORIES.map((c) => (
          <option key={c}>{c}</option>
        ))}
      </Select>
    </Fact>
  );
}

type Found = NonNullable<Piece["report"]["receive"]>["findings"];

/** What was found wrong, each with its mend to accept or refuse. */
function Findings({ findings, onKeep }: { findings: Found; onKeep(mends: string[] | null): void }) {
  if (!findings.length) return <p className="text-moss">Nothing wrong was found.</p>;
  const open = findings.filter((f) => f.mend && !f.mended && !f.kind.startsWith("keep_"));
  const done = findings.filter((f) => f.mended).map((f) => f.kind);
  return (
    <section aria-label="Findings">
      <div className="flex items-baseline justify-between">
        <h4 className="text-[11.5px] text-soft">Found</h4>
        {open.length > 0 && (
          <Button look="quiet" className="px-0 py-0 text-heron" onClick={() => onKeep(null)}>
            Mend all
          </Button>
        )}
      </div>
      {findings.map((f) =>
        f.mend ? (
          <Check
            key={f.kind}
            className="py-0.5"
            checked={f.mended}
            onChange={() => onKeep(f.mended ? done.filter((k) => k !== f.kind) : [...done, f.kind])}
          >
            <span>
              {f.text} <span className="text-soft">· {f.mended ? "mended" : f.mend}</span>
            </span>
          </Check>
        ) : (
          <p key={f.kind} className="py-0.5 pl-[21px]">
            {f.text} <span className="text-soft">· for you to see to</span>
          </p>
        ),
      )}
    </section>
  );
}
