import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { forget } from "../api/asking";
import { api, say, unwrap } from "../api/client";

export function SignIn() {
  const client = useQueryClient();
  const health = useQuery({ queryKey: ["health"], queryFn: () => unwrap(api.GET("/api/health")) });
  const [fresh, setFresh] = useState(false);
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  const enter = async (how: () => Promise<unknown>) => {
    try {
      await how();
      await forget(); // of whoever was here before
      await client.resetQueries();
    } catch (error) {
      setWrong(say(error));
    }
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const body = { email, password };
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
    const known = Intl.supportedValuesOf("timeZone").includes(timeZone); // a device may not know where it is
    void enter(() =>
      unwrap(
        fresh
          ? api.POST("/api/sign-up", { body: { ...body, timeZone: known ? timeZone : "" } })
          : api.POST("/api/sign-in", { body }),
      ),
    );
  };
  return (
    <main className="door">
      <div className="door-card">
        <h1>Idle Timber</h1>
        <p className="lead">From a piece on the rack to a wrapped gift: measured, reckoned and ready on the day.</p>
        {health.data?.demo && (
          <Button
            className="w-100 mb-3"
            size="lg"
            onClick={() => void enter(() => unwrap(api.POST("/api/sign-in/sample")))}
          >
            Open the sample shop
          </Button>
        )}
        <Form onSubmit={submit}>
          <Form.Group className="mb-2" controlId="email">
            <Form.Label>E-mail</Form.Label>
            <Form.Control
              type="email"
              autoComplete="username"
              required
              value={email}
              onChange={(e) => setEmail(e.target.value)}
            />
          </Form.Group>
          <Form.Group className="mb-3" controlId="password">
            <Form.Label>Password</Form.Label>
            <Form.Control
              type="password"
              autoComplete={fresh ? "new-password" : "current-password"}
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
            {fresh && (
              <Form.Text>
                Ten characters or more, such as three or four words that have nothing to do with each other.
              </Form.Text>
            )}
          </Form.Group>
          {wrong && (
            <p className="wrong" role="alert">
              {wrong}
            </p>
          )}
          <Button type="submit" variant={health.data?.demo ? "outline-primary" : "primary"} className="w-100">
            {fresh ? "Open a workshop" : "Sign in"}
          </Button>
        </Form>
        <Button variant="link" className="mt-2 px-0" onClick={() => setFresh(!fresh)}>
          {fresh ? "You have a workshop: sign in" : "New here: open a workshop of your own"}
        </Button>
      </div>
    </main>
  );
}
