import { useState } from "react";
import { type Fabric, useSwatch } from "../../../api/drape";
import { Choice } from "../../../ui/Select";

/** Two fabrics hung over a stand, beside each other. */
export function Swatches({ fabric, known }: { fabric: Fabric; known: Fabric[] }) {
  const [other, setOther] = useState("wool felt");
  const beside = known.find((f) => f.name === other) ?? null;
  return (
    <section aria-label="Swatches" className="mt-1.5">
      <Choice word="beside" value={other} onChoose={(v) => setOther(v)}>
        {known.map((f) => (
          <option key={f.name}>{f.name}</option>
        ))}
      </Choice>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <Hung fabric={fabric} />
        <Hung fabric={beside} />
      </div>
      <p className="text-[11.5px] text-soft">
        A round of 30 cm on a stand of 18 cm: the drape is the share of the free ring left in its shadow (ISO 9073-9).
      </p>
    </section>
  );
}

function Hung({ fabric }: { fabric: Fabric | null }) {
  const { data, isFetching, error } = useSwatch(fabric);
  if (!fabric) return null;
  return (
    <figure>
      {data ? (
        <img
          src={`data:image/png;base64,${data.picture}`}
          alt={`A round of ${fabric.name} over a stand`}
          className={isFetching ? "opacity-50" : ""}
          width={130}
          height={100}
        />
      ) : (
        <div className="grid h-[100px] place-items-center bg-chalk/50 text-[12px] text-soft">
          {error ? "It cannot be hung." : "Hanging…"}
        </div>
      )}
      <figcaption className="text-[12px]">
        {fabric.name}
        {data && (
          <span className="block text-soft">
            drape {(100 * data.coefficient).toFixed(0)} %, bends at {(1000 * data.bending[0]).toFixed(0)} ×{" "}
            {(1000 * data.bending[1]).toFixed(0)} mm
          </span>
        )}
      </figcaption>
    </figure>
  );
}
