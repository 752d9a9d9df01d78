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
import { TEXT } from "./texts";
import { WornColourway } from "./WornColourway";

const UPS = [
  ["auto", TEXT.findOut],
  ["y", "Y"],
  ["z", "Z"],
] as const;
const HANDS = [
  ["auto", TEXT.findOut],
  ["right", "right-handed"],
  ["left", "left-handed"],
] as const;
const FACINGS = [
  ["auto", TEXT.findOut],
  ["front", TEXT.toTheFront],
  ["back", TEXT.toTheBack],
] as const;
const UNITS = [
  ["auto", TEXT.findOut],
  ["m", "metres"],
  ["cm", "centimetres"],
  ["mm", "millimetres"],
  ["in", "inches"],
  ["ft", "feet"],
  ["dm", "decimetres"],
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
          <Findings findings={found.findings} onKeep={(mends) => keep({ mends }, TEXT.mend)} />
          {found.missing_textures.length > 0 && <MissingTextures piece={piece} missing={found.missing_textures} />}
          <MadeForChoice piece={piece} onKeep={(made_for) => keep({ made_for }, TEXT.madeFor)} />
          <WornColourway piece={piece} />
          <dl className="mt-1.5 border-t border-dashed border-rule pt-1.5">
            <Fact name={TEXT.file}>{piece.file_name}</Fact>
            <Fact name={TEXT.unit} note={found.unit_why}>
              {found.unit_word}
            </Fact>
            <Fact name={TEXT.up} note={found.up_why}>
              {found.up === "z" ? TEXT.zUpTurnedUpright : "Y up"}
            </Fact>
            <Fact name={TEXT.axes} note={found.stance_why}>
              {found.hand === "left" ? TEXT.leftHandedMirrored : "right-handed"}
              {found.facing === "back" ? TEXT.turnedRound : ""}
            </Fact>
            <Fact name={TEXT.size}>{TEXT.cm(found.size.map((x) => (x * 100).toFixed(1)).join(" × "))}</Fact>
            <Fact name={TEXT.onTheWearer}>{TEXT.ofTheStature((found.beside_wearer * 100).toFixed(0))}</Fact>
            <Fact name={TEXT.parts}>{TEXT.largestOfVertices(found.parts, found.largest_part, found.vertices)}</Fact>
            <Fact name={TEXT.materials}>{found.materials.join(", ")}</Fact>
            {found.textures.length > 0 && <Fact name={TEXT.textures}>{found.textures.join(", ")}</Fact>}
            {found.joints > 0 && <Fact name={TEXT.cameWith}>{came(found)}</Fact>}
            <Fact name={TEXT.openEdges}>{found.open_edges}</Fact>
            <Fact name={TEXT.leftAndRight}>
              {found.symmetric > 0.98 ? "alike" : TEXT.alike((found.symmetric * 100).toFixed(0))}
            </Fact>
            <Category piece={piece} />
          </dl>
        </>
      ) : (
        <p className="text-soft">{TEXT.lookingAtTheFile}</p>
      )}
      <div className="mt-2 grid grid-cols-2 gap-2">
        <Choice label={TEXT.unit} of={UNITS} value={step.unit} onChoose={(unit) => keep({ unit }, TEXT.setTheUnit)} />
        <Choice label={TEXT.upAxis} of={UPS} value={step.up} onChoose={(up) => keep({ up }, TEXT.setTheUpAxis)} />
        <Choice label={TEXT.axes} of={HANDS} value={step.hand} onChoose={(hand) => keep({ hand }, TEXT.setTheAxes)} />
        <Choice
          label={TEXT.looks}
          of={FACINGS}
          value={step.facing}
          onChoose={(facing) => keep({ facing }, TEXT.turnIt)}
        />
      </div>
    </div>
  );
}

function came(found: NonNullable<Piece["report"]["receive"]>): string {
  const more = [
    found.morphs.length && TEXT.morphs(found.morphs.length),
    found.clips.length && TEXT.clips(found.clips.length),
  ].filter(Boolean);
  return [TEXT.weightsOfJoints(found.joints), ...more].join(", ");
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
  const why = found && TEXT.looksLikeASure(found.category, (found.category_sure * 100).toFixed(0), found.category_why);
  return (
    <Fact name={TEXT.category} note={why ?? undefined}>
      <Select
        label={TEXT.category}
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
  if (!findings.length) return <p className="text-moss">{TEXT.nothingWrongWasFound}</p>;
  const open = findings.filter((f) => f.mend && !f.mended && !f.kind.startsWith("keep_"));
  const done = findings.filter((f) => f.mended).map((f) => f.kind);
  return (
    <section aria-label={TEXT.findings}>
      <div className="flex items-baseline justify-between">
        <h4 className="text-[11.5px] text-soft">{TEXT.found}</h4>
        {open.length > 0 && (
          <Button look="quiet" className="px-0 py-0 text-heron" onClick={() => onKeep(null)}>
            {TEXT.mendAll}
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
            {f.text} <span className="text-soft">{TEXT.forYouToSee}</span>
          </p>
        ),
      )}
    </section>
  );
}
