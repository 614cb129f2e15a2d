// Signing out, which asks where something has not been sent yet.
import { lazy, Suspense, useState } from "react";
import Button, { type ButtonProps } from "react-bootstrap/Button";
import { useSignOut } from "../kit/device";
import { usePresses } from "./kept";

const Unsent = lazy(() => import("./Unsent"));

export function SignOut(props: Pick<ButtonProps, "variant">) {
  const presses = usePresses();
  const signOut = useSignOut();
  const [unsent, setUnsent] = useState(0);
  return (
    <>
      <Button size="sm" {...props} onClick={() => (presses.count() > 0 ? setUnsent(presses.count()) : signOut())}>
        Sign out
      </Button>
      {unsent > 0 && (
        <Suspense>
          <Unsent count={unsent} onStay={() => setUnsent(0)} onGo={signOut} />
        </Suspense>
      )}
    </>
  );
}
