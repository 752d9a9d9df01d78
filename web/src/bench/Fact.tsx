/** A name and what it is. */
export function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex justify-between gap-3 py-0.5">
      <dt className="text-soft">{name}</dt>
      <dd className="text-right">{children}</dd>
    </div>
  );
}
