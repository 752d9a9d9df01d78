/** A name and what it is, and why in small print. */
export function Fact({ name, note, children }: { name: string; note?: string; children: React.ReactNode }) {
  return (
    <div className="flex flex-wrap justify-between gap-x-3 py-0.5">
      <dt className="text-soft">{name}</dt>
      <dd className="ml-auto text-right">{children}</dd>
      {note && <dd className="mb-1 w-full text-[11.5px] text-soft">{note}</dd>}
    </div>
  );
}
