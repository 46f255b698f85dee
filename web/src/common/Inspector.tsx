/** The panel at the right: what is selected, to read and change. It can be shut. */
import { DoubleLeftOutlined, DoubleRightOutlined } from "@ant-design/icons";
import { Button } from "antd";
import { type ReactNode, useState } from "react";
import { Calm } from "./Calm";
import { Edge } from "./Edge";
import { type HelpKey, Helped } from "./help";
import { keptStore } from "./store";

const FIRST = 320;
/** px; kept for the person. */
const width = keptStore("tin-saddle inspector", FIRST);

export function Inspector({ title, children, extra }: { title: ReactNode; children: ReactNode; extra?: ReactNode }) {
  const [shut, setShut] = useState(false);
  const wide = width.use((w) => w);
  return (
    <aside className={`inspector${shut ? " shut" : ""}`} aria-label="Inspector" style={shut ? undefined : { width: wide }}>
      {!shut && (
        <Edge label="Width of the inspector" runs="vertical" size={wide} least={280} most={() => window.innerWidth / 2} first={FIRST} set={width.set} />
      )}
      {shut ? (
        <Button type="text" size="small" aria-label="Open the inspector" icon={<DoubleLeftOutlined />} onClick={() => setShut(false)} />
      ) : (
        <>
          <div className="head">
            <h2>{title}</h2>
            <span>
              {extra}
              <Button type="text" size="small" aria-label="Shut the inspector" icon={<DoubleRightOutlined />} onClick={() => setShut(true)} />
            </span>
          </div>
          <Calm>{children}</Calm>
        </>
      )}
    </aside>
  );
}

/** A field with its name; help: what tells more of it. */
export function Row({ label, help, children }: { label: string; help?: HelpKey; children: ReactNode }) {
  return (
    <div className="row">
      <span className="quiet">{help ? <Helped by={help}>{label}</Helped> : label}</span>
      {children}
    </div>
  );
}

/** Figures with units, in columns of three. */
export function Figures({ of }: { of: [string, string, string][] }) {
  return (
    <dl className="figures">
      {of.map(([name, value, unit]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>
            {value} <small>{unit}</small>
          </dd>
        </div>
      ))}
    </dl>
  );
}
