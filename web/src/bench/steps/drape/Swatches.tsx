import { type Fabric, useSwatch } from "../../../api/drape";
import { useKept } from "../../../store/kept";
import { Choice } from "../../../ui/Select";
import { TEXT } from "./texts";

/** Two fabrics hung over a stand, beside each other. */
export function Swatches({ fabric, known }: { fabric: Fabric; known: Fabric[] }) {
  const [other, setOther] = useKept("swatch beside", TEXT.woolFelt);
  const beside = known.find((f) => f.name === other) ?? null;
  return (
    <section aria-label={TEXT.swatches} className="mt-1.5">
      <Choice word={TEXT.beside} value={other} onChoose={(v) => setOther(v)}>
        {known.map((f) => (
          <option key={f.name}>{f.name}</option>
        ))}
      </Choice>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <Hung fabric={fabric} />
        <Hung fabric={beside} />
      </div>
      <p className="text-[11.5px] text-soft">{TEXT.aRoundOf30}</p>
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
          alt={TEXT.aRoundOfOver(fabric.name)}
          className={isFetching ? "opacity-50" : ""}
          width={130}
          height={100}
        />
      ) : (
        <div className="grid h-[100px] place-items-center bg-chalk/50 text-[12px] text-soft">
          {error ? TEXT.itCannotBeHung : TEXT.hanging}
        </div>
      )}
      <figcaption className="text-[12px]">
        {fabric.name}
        {data && (
          <span className="block text-soft">
            {TEXT.drapeBendsAtMm(
              (100 * data.coefficient).toFixed(0),
              (1000 * data.bending[0]).toFixed(0),
              (1000 * data.bending[1]).toFixed(0),
            )}
          </span>
        )}
      </figcaption>
    </figure>
  );
}
