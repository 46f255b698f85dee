/** What a piece of a code is, said by the person at an example: the way of writing follows. */
import { Dropdown, type MenuProps } from "antd";
import type { Schemas } from "../../api/client";

type Grammar = Schemas["CodeGrammar"];
export type Piece = Schemas["CodesOut"]["rows"][number]["pieces"][number];
export interface Asked {
  piece: Piece;
  x: number;
  y: number;
}

interface Choice {
  key: string;
  label: string;
  then: Partial<Grammar>;
}

/** What may be said of a piece, and what the grammar is then. means: words for what a control word does. */
export function choicesFor(piece: Piece, grammar: Grammar, means: { value: Grammar["controls"][number]["means"]; label: string }[]): Choice[] {
  const text = piece.text.trim();
  const sign = piece.text.trim() || piece.text;
  const others = grammar.controls.filter((c) => c.word.toUpperCase() !== text.toUpperCase());
  if (piece.kind === "remark") return [{ key: "no remark", label: "no remark", then: { remark: "" } }];
  if (piece.kind === "between")
    return [
      { key: "between", label: "a sign between codes", then: { between: with_(grammar.between, sign), marks: without(grammar.marks, sign) } },
      { key: "marks", label: "a sign that joins a line to its code", then: { between: without(grammar.between, sign), marks: with_(grammar.marks, sign) } },
    ];
  const lead = /^[^\p{L}\p{N}\s]+/u.exec(text)?.[0];
  const inner = [...new Set(/[\p{L}\p{N}]([^\p{L}\p{N}\s])[\p{L}\p{N}]/u.exec(text)?.slice(1) ?? [])];
  return [
    ...inner.map((mark) => ({ key: `joined ${mark}`, label: `a code and its line, joined by “${mark}”`, then: { marks: with_(grammar.marks, mark) } })),
    { key: "code", label: "a code of lines", then: { controls: others, points: grammar.points.filter((p) => p !== text) } },
    { key: "points", label: "a code of points alone", then: { controls: others, points: [...new Set([...grammar.points, text])] } },
    ...means.map(({ value, label }) => ({ key: value, label: `a word: ${label}`, then: { controls: [...others, { word: text, means: value }] } })),
    ...(lead ? [{ key: "remark", label: "the beginning of a remark", then: { remark: lead.slice(0, 4) } }] : []),
  ];
}

const without = (signs: string, sign: string) => [...signs].filter((s) => !sign.includes(s)).join("");
const with_ = (signs: string, sign: string) => [...new Set([...signs, ...sign])].join("").slice(0, 6);

export function PieceMenu({ asked, choices, choose, close }: { asked: Asked; choices: Choice[]; choose: (then: Partial<Grammar>) => void; close: () => void }) {
  const items: MenuProps["items"] = [{ type: "group", label: `“${asked.piece.text}” is`, children: choices.map(({ key, label }) => ({ key, label })) }];
  return (
    <Dropdown
      open
      autoFocus
      trigger={["click"]}
      onOpenChange={(open) => !open && close()}
      menu={{
        items,
        onClick: ({ key }) => {
          close();
          choose(choices.find((c) => c.key === key)!.then);
        },
      }}
    >
      <span style={{ position: "fixed", left: asked.x, top: asked.y, width: 1, height: 1 }} />
    </Dropdown>
  );
}
