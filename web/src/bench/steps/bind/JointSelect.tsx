import type { BindJoint } from "../../../api/binding";
import { Select } from "../../../ui/Select";
import { TEXT } from "./texts";

/** A joint by its name, those that bear some of the piece first. */
export function JointSelect(props: {
  label: string;
  joints: BindJoint[];
  value: string;
  none?: string;
  onChange(joint: string): void;
}) {
  const bearing = props.joints.filter((j) => j.bears > 0.5).sort((a, b) => b.bears - a.bears);
  const others = props.joints.filter((j) => j.bears <= 0.5);
  const option = (j: BindJoint) => (
    <option key={j.name} value={j.name}>
      {j.label} ({j.name}){j.bears > 0.5 ? ` · ${j.bears.toFixed(0)}` : ""}
    </option>
  );
  return (
    <label className="flex items-center gap-2">
      <span className="w-12 shrink-0 text-soft">{props.label}</span>
      <Select label={props.label} className="min-w-0 flex-1" value={props.value} onChoose={(v) => props.onChange(v)}>
        {props.none !== undefined && <option value="">{props.none}</option>}
        {bearing.length > 0 && <optgroup label={TEXT.bearsSomeOfIt}>{bearing.map(option)}</optgroup>}
        <optgroup label={bearing.length ? TEXT.others : TEXT.joints}>{others.map(option)}</optgroup>
      </Select>
    </label>
  );
}
