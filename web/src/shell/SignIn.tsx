/** Signing in, with a second factor where there is one; asking for a new password, and setting it by the link that was mailed. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Input } from "antd";
import { type ReactNode, useState } from "react";
import { useSearchParams } from "react-router";
import { api, dataOf, Failure, lineOf } from "../api/client";
import mark from "./mark.svg";

function Door({ onSubmit, children }: { onSubmit: () => void; children: ReactNode }) {
  return (
    <div className="sign-in">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onSubmit();
        }}
      >
        <h2 style={{ display: "flex", gap: 10, alignItems: "center" }}>
          <img src={mark} alt="" width={28} /> Tin Saddle
        </h2>
        {children}
      </form>
    </div>
  );
}

interface Typed {
  name: string;
  password: string;
  code: string;
}

export function SignIn({ demoNames }: { demoNames: string[] }) {
  const [typed, setTyped] = useState<Typed>({ name: "", password: "", code: "" });
  const [lost, setLost] = useState(false);
  const client = useQueryClient();
  const signIn = useMutation({
    mutationFn: async (body: Typed) => dataOf(await api.POST("/api/session", { body })),
    onSuccess: (me) => client.setQueryData(["me"], me),
  });
  if (lost) return <AskForReset name={typed.name} back={() => setLost(false)} />;
  const set = (key: keyof Typed) => (e: { target: { value: string } }) => setTyped({ ...typed, [key]: e.target.value });
  const asksCode = signIn.error instanceof Failure && signIn.error.told.subject === "code";
  return (
    <Door onSubmit={() => signIn.mutate(typed)}>
      <span className="quiet">Cross-sections, overlays and quantities for road repair</span>
      <Input aria-label="Name" placeholder="Name" autoComplete="username" value={typed.name} onChange={set("name")} />
      <Input.Password aria-label="Password" placeholder="Password" autoComplete="current-password" value={typed.password} onChange={set("password")} />
      {asksCode && <Input aria-label="Code" placeholder="Code" autoComplete="one-time-code" autoFocus value={typed.code} onChange={set("code")} />}
      {signIn.error && <Alert type={asksCode && !signIn.variables.code ? "info" : "error"} title={lineOf(signIn.error)} />}
      <Button type="primary" htmlType="submit" loading={signIn.isPending} disabled={!typed.name || !typed.password}>
        Sign in
      </Button>
      <Button type="link" size="small" onClick={() => setLost(true)}>
        I do not know my password
      </Button>
      {demoNames.length > 0 && (
        <div className="quiet">
          Demo sign-ins:{" "}
          {demoNames.map((n) => (
            <Button key={n} type="link" size="small" onClick={() => signIn.mutate({ name: n, password: n, code: "" })}>
              {n}
            </Button>
          ))}
        </div>
      )}
    </Door>
  );
}

function AskForReset({ name: first, back }: { name: string; back: () => void }) {
  const [name, setName] = useState(first);
  const ask = useMutation({ mutationFn: async () => dataOf(await api.POST("/api/session/reset", { body: { name } })) });
  return (
    <Door onSubmit={() => ask.mutate()}>
      <span className="quiet">A link for a new password is mailed to the address that belongs to your name.</span>
      <Input aria-label="Name or mail address" placeholder="Name or mail address" autoFocus value={name} onChange={(e) => setName(e.target.value)} />
      {ask.error && <Alert type="error" title={lineOf(ask.error)} />}
      {ask.isSuccess && <Alert type="success" title="If there is such a person, the mail is on its way." />}
      <Button type="primary" htmlType="submit" loading={ask.isPending} disabled={!name}>
        Mail the link
      </Button>
      <Button type="link" size="small" onClick={back}>
        Back to signing in
      </Button>
    </Door>
  );
}

/** The page that the mailed link opens. */
export function ResetPassword() {
  const [search] = useSearchParams();
  const [fresh, setFresh] = useState("");
  const set = useMutation({
    mutationFn: async () =>
      dataOf(await api.POST("/api/session/reset/confirm", { body: { who: search.get("who") ?? "", token: search.get("token") ?? "", new: fresh } })),
  });
  return (
    <Door onSubmit={() => set.mutate()}>
      {set.isSuccess ? (
        <>
          <Alert type="success" title="The password is set." />
          <a href="/">To signing in</a>
        </>
      ) : (
        <>
          <Input.Password
            aria-label="New password"
            placeholder="New password"
            autoComplete="new-password"
            value={fresh}
            onChange={(e) => setFresh(e.target.value)}
          />
          {set.error && <Alert type="error" title={lineOf(set.error)} />}
          <Button type="primary" htmlType="submit" loading={set.isPending} disabled={!fresh}>
            Set the password
          </Button>
        </>
      )}
    </Door>
  );
}
