import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Input } from "antd";
import { useState } from "react";
import { api, dataOf, lineOf } from "../api/client";
import mark from "./mark.svg";

export function SignIn({ demoNames }: { demoNames: string[] }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const client = useQueryClient();
  const signIn = useMutation({
    mutationFn: async (body: { name: string; password: string }) => dataOf(await api.POST("/api/session", { body })),
    onSuccess: (me) => client.setQueryData(["me"], me),
  });
  return (
    <div className="sign-in">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          signIn.mutate({ name, password });
        }}
      >
        <h2 style={{ display: "flex", gap: 10, alignItems: "center" }}>
          <img src={mark} alt="" width={28} /> Tin Saddle
        </h2>
        <span className="quiet">Cross-sections, overlays and quantities for road repair</span>
        <Input aria-label="Name" placeholder="Name" autoComplete="username" value={name} onChange={(e) => setName(e.target.value)} />
        <Input.Password
          aria-label="Password"
          placeholder="Password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        {signIn.error && <Alert type="error" title={lineOf(signIn.error)} />}
        <Button type="primary" htmlType="submit" loading={signIn.isPending} disabled={!name || !password}>
          Sign in
        </Button>
        {demoNames.length > 0 && (
          <div className="quiet">
            Demo sign-ins:{" "}
            {demoNames.map((n) => (
              <Button key={n} type="link" size="small" onClick={() => signIn.mutate({ name: n, password: n })}>
                {n}
              </Button>
            ))}
          </div>
        )}
      </form>
    </div>
  );
}
