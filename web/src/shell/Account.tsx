/** One's own account: password, second factor, open sessions. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Input, Tag } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf } from "../api/client";
import { useMe } from "../api/hooks";
import { when } from "../common/when";
import { Dialog } from "../common/Dialog";

export function Account({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open saves title="Account" width={560} onCancel={onClose} footer={null}>
      <Password />
      <SecondFactor />
      <Sessions />
    </Dialog>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: async () => dataOf(await api.POST("/api/session/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  return (
    <form
      aria-label="Password"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate();
      }}
    >
      <h3>Password</h3>
      <div style={{ display: "flex", gap: 8 }}>
        <Input.Password
          aria-label="Present password"
          placeholder="Present password"
          autoComplete="current-password"
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <Input.Password
          aria-label="New password"
          placeholder="New password"
          autoComplete="new-password"
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
        />
        <Button htmlType="submit" disabled={!old || !fresh} loading={change.isPending}>
          Change
        </Button>
      </div>
      {change.error && <Alert type="error" style={{ marginTop: 8 }} title={lineOf(change.error)} />}
      {change.isSuccess && <Alert type="success" style={{ marginTop: 8 }} title="Changed. Your other sessions have ended." />}
    </form>
  );
}

function SecondFactor() {
  const me = useMe().data;
  const client = useQueryClient();
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const again = () => client.invalidateQueries({ queryKey: ["me"] });
  const begin = useMutation({ mutationFn: async () => dataOf(await api.POST("/api/session/second-factor", { body: { password } })) });
  const confirm = useMutation({
    mutationFn: async () => dataOf(await api.POST("/api/session/second-factor/confirm", { body: { code } })),
    onSuccess: again,
  });
  const off = useMutation({
    mutationFn: async () => dataOf(await api.POST("/api/session/second-factor/off", { body: { password } })),
    onSuccess: async () => {
      begin.reset();
      confirm.reset();
      await again();
    },
  });
  const error = off.error ?? confirm.error ?? begin.error;
  return (
    <section aria-label="Second factor" style={{ marginTop: 20 }}>
      <h3>
        Second factor <Tag className={me?.second_factor ? "sound-tag" : undefined}>{me?.second_factor ? "on" : "off"}</Tag>
      </h3>
      <p className="quiet">Besides the password, a code from an app on your phone.</p>
      {begin.data && !confirm.data ? (
        <div style={{ display: "flex", gap: 16, alignItems: "center" }}>
          <img src={`data:image/svg+xml;utf8,${encodeURIComponent(begin.data.picture)}`} alt={`Code for the app: ${begin.data.address}`} width={140} />
          <div>
            <p>Take this up with the app, then type the code that it shows.</p>
            <p className="quiet">
              Or type the key: <span className="mono">{/secret=([A-Z2-7]+)/.exec(begin.data.address)?.[1]}</span>
            </p>
            <div style={{ display: "flex", gap: 8 }}>
              <Input aria-label="Code of the app" autoComplete="one-time-code" value={code} onChange={(e) => setCode(e.target.value)} style={{ width: 120 }} />
              <Button type="primary" disabled={!code} loading={confirm.isPending} onClick={() => confirm.mutate()}>
                Confirm
              </Button>
            </div>
          </div>
        </div>
      ) : (
        <div style={{ display: "flex", gap: 8 }}>
          <Input.Password
            aria-label="Password for the second factor"
            placeholder="Your password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            style={{ width: 220 }}
          />
          <Button disabled={!password} loading={begin.isPending} onClick={() => begin.mutate()}>
            {me?.second_factor ? "Another app" : "Set up"}
          </Button>
          {me?.second_factor && (
            <Button disabled={!password} loading={off.isPending} onClick={() => off.mutate()}>
              Turn off
            </Button>
          )}
        </div>
      )}
      {confirm.data && (
        <Alert
          type="success"
          style={{ marginTop: 8 }}
          title="It is on. Keep these codes for when the app is lost; each counts once, and they are not shown again."
          description={<span className="mono">{confirm.data.codes.join("  ")}</span>}
        />
      )}
      {error && <Alert type="error" style={{ marginTop: 8 }} title={lineOf(error)} />}
    </section>
  );
}

function Sessions() {
  const client = useQueryClient();
  const sessions = useQuery({ queryKey: ["sessions"], queryFn: async () => dataOf(await api.GET("/api/session/open")), staleTime: 0 });
  const end = useMutation({
    mutationFn: async (session_id: number) => dataOf(await api.DELETE("/api/session/open/{session_id}", { params: { path: { session_id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["sessions"] }),
  });
  return (
    <section aria-label="Open sessions" style={{ marginTop: 20 }}>
      <h3>Open sessions</h3>
      {(sessions.data ?? []).map((s) => (
        <div key={s.id} style={{ display: "flex", gap: 8, alignItems: "baseline", marginBottom: 6 }}>
          <span style={{ flex: 1, overflowWrap: "anywhere" }}>
            {browserOf(s.agent)}{" "}
            <span className="quiet">
              {s.address}, last active {when(s.seen_at)}
            </span>
          </span>
          {s.here ? (
            <Tag>this one</Tag>
          ) : (
            <Button size="small" onClick={() => end.mutate(s.id)}>
              End
            </Button>
          )}
        </div>
      ))}
    </section>
  );
}

/** What a person would call a browser. */
function browserOf(agent: string): string {
  const name = /(Firefox|Edg|Chrome|Safari)\//.exec(agent)?.[1] ?? "Browser";
  const system = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent)?.[1];
  return [name === "Edg" ? "Edge" : name, system && `on ${system === "Mac OS X" ? "macOS" : system}`].filter(Boolean).join(" ");
}
