import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, Select } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, dataOf, lineOf, type Schemas } from "../api/client";
import { choicesOf } from "../common/words";
import { Header } from "./Header";

type Unit = NonNullable<Schemas["ProjectIn"]["unit"]>;
type Set = NonNullable<Schemas["ProjectIn"]["standards"]>;
/** What a project is judged by at first; the standards are the project's own then, and may be changed. */
const SETS: Record<Set, string> = { austroads: "Austroads", aashto: "AASHTO", texas: "AASHTO, grades of Texas", uk: "CD 109" };

/** In what files are measured that do not say it; what is shown is metric. */
const UNITS: Record<Unit, string> = { metre: "Files in metres", foot: "Files in feet", us_survey_foot: "Files in US survey feet" };

export function Projects() {
  const [name, setName] = useState("");
  const [standards, setStandards] = useState<Set>("austroads");
  const [unit, setUnit] = useState<Unit>("metre");
  const client = useQueryClient();
  const navigate = useNavigate();
  const { message } = App.useApp();
  const projects = useQuery({ queryKey: ["projects"], queryFn: async () => dataOf(await api.GET("/api/projects")) });
  const make = useMutation({
    mutationFn: async () => dataOf(await api.POST("/api/projects", { body: { name, unit, standards } })),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: ["projects"] });
      await navigate(`/p/${made.id}/survey`);
    },
    onError: (e) => message.error(lineOf(e)),
  });
  return (
    <div style={{ display: "grid", gridTemplateRows: "44px 1fr", height: "100%" }}>
      <Header />
      <main className="page">
        <h2>Projects</h2>
        <div className="card" style={{ padding: 0 }}>
          {projects.data?.map((p) => (
            <Link key={p.id} to={`/p/${p.id}`} className="list-item" style={{ textDecoration: "none", padding: "10px 14px" }}>
              {p.name} <span className="quiet">· {p.role}</span>
            </Link>
          ))}
          {projects.data?.length === 0 && <div style={{ padding: 14 }}>No project yet. Make one below.</div>}
        </div>
        {/* Once the list is there: what is pressed must not be pushed away by it. */}
        {!projects.isPending && (
          <form
            style={{ display: "flex", gap: 8, maxWidth: 800 }}
            onSubmit={(e) => {
              e.preventDefault();
              make.mutate();
            }}
          >
            <Input
              aria-label="Name of the new project"
              placeholder="Name of the new project"
              maxLength={80}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <Select<Unit> aria-label="Units of the new project" style={{ width: 200 }} value={unit} options={choicesOf(UNITS)} onChange={setUnit} />
            <Select<Set> aria-label="Standards of the new project" style={{ width: 210 }} value={standards} options={choicesOf(SETS)} onChange={setStandards} />
            <Button type="primary" htmlType="submit" disabled={!name.trim()} loading={make.isPending}>
              Make project
            </Button>
          </form>
        )}
      </main>
    </div>
  );
}
