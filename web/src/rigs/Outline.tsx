import { show } from "../model/numbers";
import { Button } from "../ui/Button";
import { Typed } from "./FieldForm";
import { cm, type RigSource } from "./source";

type Corner = [string, string];

/** The body from above: a disc, or the corners of a convex outline, counter-clockwise. */
export function Outline({ source, onChange }: { source: RigSource; onChange: (source: RigSource) => void }) {
  const body = source.body ?? {};
  const corners = body.outline;
  const put = (outline: Corner[] | undefined) => {
    const next = { ...body };
    delete next.outline;
    if (outline) {
      delete next.radius;
      next.outline = outline;
    }
    onChange({ ...source, body: next });
  };
  const reach = cm(body.radius, 9);
  const square = (): Corner[] => [[1, -1], [1, 1], [-1, 1], [-1, -1]].map(([ahead = 0, left = 0]) => [show(ahead * reach, "cm", 1), show(left * reach, "cm", 1)]);
  const withUnit = (text: string) => (/^-?[0-9.]+$/.test(text) ? `${text} cm` : text);
  const set = (corner: number, axis: number, text: string) => corners && put(corners.map((item, at) => (at === corner ? (axis ? [item[0], withUnit(text)] : [withUnit(text), item[1]]) : item)));
  const split = (index: number) => {
    if (!corners) return;
    const [from, to] = [corners[index], corners[(index + 1) % corners.length]];
    if (!from || !to) return;
    // a little outwards: the three would lie on one line otherwise
    const middle = [0, 1].map((axis) => ((cm(from[axis], 0) + cm(to[axis], 0)) / 2) * 1.15);
    put([...corners.slice(0, index + 1), [show(middle[0] ?? 0, "cm", 1), show(middle[1] ?? 0, "cm", 1)], ...corners.slice(index + 1)]);
  };
  return (
    <section className="border-t border-rule pt-1.5 text-[14px]" aria-label="Outline of the body">
      <h3 className="flex items-center gap-2 font-bold">
        <span className="flex-1">Outline</span>
        <Button small onClick={() => put(corners ? undefined : square())}>
          {corners ? "Make it round" : "Give it corners"}
        </Button>
      </h3>
      <p className="text-[12.5px] leading-tight text-soft">What bumps into things. Corners go round to the left, and none points inwards; from the middle of the axle.</p>
      {corners && (
        <table className="mt-1 text-[14px]">
          <thead>
            <tr className="text-left text-[12.5px] text-soft">
              <th className="font-normal">ahead</th>
              <th className="font-normal">to the left</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {corners.map((corner, index) => (
              <tr key={index}>
                {[0, 1].map((axis) => (
                  <td key={axis} className="pr-1.5">
                    <Typed narrow label={`Corner ${index + 1}, ${axis ? "to the left" : "ahead"}`} value={corner[axis] ?? ""} hint="" onChange={(text) => set(index, axis, text)} />
                  </td>
                ))}
                <td className="flex gap-1">
                  <Button small aria-label={`Another corner behind corner ${index + 1}`} onClick={() => split(index)}>
                    Add
                  </Button>
                  {corners.length > 3 && (
                    <Button small aria-label={`Delete corner ${index + 1}`} onClick={() => put(corners.filter((_, at) => at !== index))}>
                      Delete
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
