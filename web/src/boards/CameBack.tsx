// A board that came back: what is seen on it, what is done about it, how long that takes and what it costs.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSearchParams } from "react-router";
import { api, unwrap, type Board, type Triage } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { DayField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

export function CameBack({ board: b, version, given }: { board: Board; version: number; given: boolean }) {
  const client = useQueryClient();
  const { time } = useWorkshop();
  const [, setQuery] = useSearchParams();
  const [seen, setSeen] = useState<string>();
  const [due, setDue] = useState("");
  const triage = useQuery({
    queryKey: ["triage", b.id, version],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/triage", { params: { path: { id: b.id } } })),
  });
  const back = useMutation({
    mutationFn: (sign: string) =>
      unwrap(api.POST("/api/boards/{id}/return", { params: { path: { id: b.id } }, body: { sign, due } })),
    onSuccess: async () => {
      await client.invalidateQueries();
      setQuery({ stage: "give" });
    },
  });
  const arrived = useArrived(triage);
  if (!arrived) return <Away of={triage} />;
  const now = arrived.find((t) => t.key === b.returned?.sign);
  const open = arrived.find((t) => t.key === seen);
  return (
    <>
      {b.returned && !given ? (
        <p>
          It came back on {time(b.returned.at, false)}: {now?.seen}. What is done about it stands in its plan.
        </p>
      ) : (
        !given && <p className="facts">It has not been given away yet. This is what would be done if it came back.</p>
      )}
      <h3>What do you see?</h3>
      <ul className="plain-list signs">
        {arrived.map((t) => (
          <li key={t.key}>
            <button
              type="button"
              className={`sign ${seen === t.key ? "open" : ""}`}
              aria-expanded={seen === t.key}
              onClick={() => setSeen(seen === t.key ? undefined : t.key)}
            >
              {t.seen}
            </button>
            {open?.key === t.key && (
              <Answer of={t}>
                {given && (
                  <>
                    <DayField label="Ready again by, if there is a day" value={due} onChange={setDue} />
                    <Button size="sm" disabled={back.isPending} onClick={() => back.mutate(t.key)}>
                      Take it back into work
                    </Button>
                    <Wrong error={back.error} />
                  </>
                )}
              </Answer>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function Answer({ of: t, children }: { of: Triage; children: React.ReactNode }) {
  const { time, value, words } = useWorkshop();
  return (
    <div className="sign-answer">
      {t.out && <p className="late">Out of use until it is seen to.</p>}
      <strong>Who has it can</strong>
      <ol>
        {t.owner.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
      <strong>In the shop</strong>
      <p>{t.shop}.</p>
      <p>
        {showMinutes(t.minutes)} of work
        {t.ready && (
          <>
            , ready for food {time(t.ready, false)}, in {t.days} {t.days === 1 ? "day" : "days"}
          </>
        )}
        . It costs {value(t.cost, "cents")}; for a customer {value(t.price, "cents")}.
      </p>
      {t.uses.length > 0 && (
        <p className="facts">Takes {t.uses.map((u) => `${words(u.item)} ${value(u.amount, u.unit)}`).join(", ")}.</p>
      )}
      {children}
    </div>
  );
}
