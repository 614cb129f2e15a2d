// What is to be done tonight, operation by operation, in an order that the maker may change.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Turn } from "../api/client";
import { showClock, showMinutes } from "../kit/length";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

/** keysOf are the steps of turns, as the plan names them. */
export const keysOf = (turns: Turn[]): string[] =>
  turns.flatMap((t) => t.steps.map((s) => `${s.subject.kind}:${s.subject.id}/${s.step}`));

/** moved is a list with one of its members taken to another place. */
export function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const out = list.filter((_, i) => i !== from);
  out.splice(to, 0, list[from]);
  return out;
}

export function Turns({ turns, ahead }: { turns: Turn[]; ahead: boolean }) {
  const { words, shop } = useWorkshop();
  const client = useQueryClient();
  const order = useMutation({
    mutationFn: (steps: string[]) => unwrap(api.POST("/api/plan/ahead", { body: { steps } })),
    onSuccess: () => client.invalidateQueries(),
  });
  if (turns.length === 0) return null;
  const mine = turns.filter((t) => !t.who);
  const move = (from: number, to: number) => order.mutate(keysOf(moved(mine, from, to)));
  return (
    <section aria-labelledby="tonight" className="turns">
      <h2 id="tonight">In this session</h2>
      <ol>
        {turns.map((t) => {
          const at = mine.indexOf(t);
          return (
            <li key={`${t.from} ${t.title} ${t.who}`}>
              <span className="turn-at">{showClock(t.from, shop.timeZone)}</span>
              <div>
                <strong>{words(t.title)}</strong>
                {t.tool && <> with {words(t.tool)}</>}
                {t.who && <>, {t.who}</>}
                <div className="facts">
                  {t.steps.map((s) => s.name).join("; ")}, about {showMinutes(t.minutes)}
                  {t.saved >= 0.5 && <>, {showMinutes(t.saved)} saved by setting up once</>}
                </div>
              </div>
              {at >= 0 && mine.length > 1 && (
                <span className="turn-move">
                  <Button
                    size="sm"
                    variant="link"
                    aria-label={`${words(t.title)} sooner`}
                    disabled={!mine[at - 1]?.free || order.isPending}
                    onClick={() => move(at, at - 1)}
                  >
                    ↑
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    aria-label={`${words(t.title)} later`}
                    disabled={!t.free || order.isPending}
                    onClick={() => move(at, at + 1)}
                  >
                    ↓
                  </Button>
                </span>
              )}
            </li>
          );
        })}
      </ol>
      {ahead && (
        <Button size="sm" variant="link" disabled={order.isPending} onClick={() => order.mutate([])}>
          Let the plan decide the order
        </Button>
      )}
      <Wrong error={order.error} />
    </section>
  );
}
