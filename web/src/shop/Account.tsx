// The maker's account: where it is signed in, its password, taking the workshop
// along, and leaving for good.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { api, unwrap } from "../api/client";
import { SignOut } from "../bench/SignOut";
import { useEvening } from "../kit/device";
import { Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useSearch } from "../layout/useSearch";
import { useWorkshop } from "../kit/workshop";

export function Account() {
  return (
    <section>
      <h2>You and this device</h2>
      <Device />
      <Password />
      <SignIns />
      <Leaving />
    </section>
  );
}

function Device() {
  const [evening, setEvening] = useEvening();
  return (
    <div className="d-flex justify-content-between align-items-center mb-2">
      <Tick label="Evening colours" value={evening} onChange={setEvening} />
      <SignOut variant="outline-primary" />
    </div>
  );
}

interface SecretProps {
  id: string;
  label: string;
  fresh?: boolean;
  value: string;
  onChange: (v: string) => void;
}

function Secret({ id, label, fresh = false, value, onChange }: SecretProps) {
  return (
    <Form.Group className="field" controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        type="password"
        autoComplete={fresh ? "new-password" : "current-password"}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </Form.Group>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: () => unwrap(api.POST("/api/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
      void client.invalidateQueries({ queryKey: ["sign-ins"] });
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <Form onSubmit={submit}>
      <Secret id="old-password" label="Old password" value={old} onChange={setOld} />
      <Secret id="new-password" label="New password" fresh value={fresh} onChange={setFresh} />
      <Wrong error={change.error} />
      {change.isSuccess && <p role="status">The password is changed; you are signed out everywhere else.</p>}
      <Button size="sm" type="submit" variant="outline-primary" disabled={old === "" || fresh === ""}>
        Change it
      </Button>
    </Form>
  );
}

/** browserOf is what a browser says of itself, in short. */
function browserOf(agent: string): string {
  const named = /(Firefox|Edg|OPR|Chrome|Safari)\/\d+/.exec(agent);
  const on = /Android|iPhone|iPad|Windows|Macintosh|Linux/.exec(agent);
  return [named?.[1] ?? "A browser", on && `on ${on[0]}`].filter(Boolean).join(" ");
}

/** SignIns lists where the maker is signed in. */
function SignIns() {
  const { time } = useWorkshop();
  const client = useQueryClient();
  const list = useQuery({ queryKey: ["sign-ins"], queryFn: () => unwrap(api.GET("/api/me/sign-ins")) });
  const end = useMutation({
    mutationFn: (id: string) =>
      id === ""
        ? unwrap(api.DELETE("/api/me/sign-ins"))
        : unwrap(api.DELETE("/api/me/sign-ins/{id}", { params: { path: { id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["sign-ins"] }),
  });
  const all = list.data ?? [];
  return (
    <>
      <h3>Signed in</h3>
      <ul className="sign-ins">
        {all.map((s) => (
          <li key={s.id}>
            <span>
              {s.here ? <strong>This device</strong> : browserOf(s.agent)}
              <span className="facts">
                {" "}
                from {s.address}, used {time(s.seen)}
              </span>
            </span>
            {!s.here && (
              <Button size="sm" variant="link" onClick={() => end.mutate(s.id)}>
                Sign out there
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Wrong error={end.error} />
      {all.length > 1 && (
        <Button size="sm" variant="outline-primary" onClick={() => end.mutate("")}>
          Sign out everywhere else
        </Button>
      )}
    </>
  );
}

/** TakeAlong has the workshop packed, and hands it over. */
function TakeAlong() {
  const [packing, setPacking] = useState("");
  const news = useSearch(packing);
  const begin = useMutation({
    mutationFn: () => unwrap(api.POST("/api/me/everything")),
    onSuccess: (s) => setPacking(s.id),
  });
  const stop = useMutation({
    mutationFn: () => unwrap(api.POST("/api/searches/{id}/stop", { params: { path: { id: packing } } })),
  });
  const state = begin.isPending ? "waiting" : packing && (news?.state ?? "waiting");
  const busy = state === "waiting" || state === "running";
  const words: Record<string, string> = {
    waiting: news?.ahead ? `${news.ahead} come before it.` : "It waits for its turn.",
    running: "It is being packed.",
    failed: `It broke off: ${news?.wrong}.`,
    cancelled: "It was given up, since no page looked on.",
  };
  return (
    <>
      <p>Take it along, as files: each piece with its boards as a job file, lists as tables, the shop, the pictures.</p>
      <div className="d-flex flex-wrap align-items-center gap-3 mb-3">
        {state === "done" && (
          <a className="btn btn-sm btn-primary" href={`/api/searches/${packing}/file`} download>
            Save the files
          </a>
        )}
        <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => begin.mutate()}>
          {state === "done" ? "Pack it again" : "Pack it"}
        </Button>
        {busy && packing && (
          <Button size="sm" variant="outline-primary" disabled={stop.isPending} onClick={() => stop.mutate()}>
            Stop
          </Button>
        )}
        <span role="status">{words[state] ?? ""}</span>
      </div>
      <Wrong error={begin.error ?? stop.error} />
    </>
  );
}

/** Leaving is taking the workshop along, and deleting it. */
function Leaving() {
  const [asked, ask] = useState(false);
  const [password, setPassword] = useState("");
  const leave = useMutation({
    mutationFn: () => unwrap(api.POST("/api/me/delete", { body: { password } })),
    onSuccess: () => window.location.assign("/"),
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    leave.mutate();
  };
  return (
    <>
      <h3>Your workshop</h3>
      <TakeAlong />
      {asked ? (
        <Form onSubmit={submit}>
          <p>Your pieces, boards, log and pictures are deleted with your account, at once and for good.</p>
          <Secret id="delete-password" label="Your password" value={password} onChange={setPassword} />
          <Wrong error={leave.error} />
          <div className="d-flex gap-2">
            <Button size="sm" type="submit" variant="danger" disabled={password === ""}>
              Delete it all
            </Button>
            <Button size="sm" variant="outline-primary" onClick={() => ask(false)}>
              Keep it
            </Button>
          </div>
        </Form>
      ) : (
        <Button size="sm" variant="link" className="px-0" onClick={() => ask(true)}>
          Delete the account and the workshop
        </Button>
      )}
    </>
  );
}
