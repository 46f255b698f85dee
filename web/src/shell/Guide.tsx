/** The guide beside the work: its page for the stop, with links to the others. */
import { Button, Drawer } from "antd";
import { useEffect, useState } from "react";
import Markdown from "react-markdown";
import remarkGfm from "remark-gfm";
import "./guide.css";
import { startTour } from "../base/tour";

const PAGES = import.meta.glob<string>("../../../docs/guide/*.md", { query: "?raw", import: "default" });
const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", { query: "?url", import: "default", eager: true });

const nameOf = (path: string) =>
  path
    .split("/")
    .at(-1)!
    .replace(/\.(md|png)$/, "");
const pageOf = (name: string) => Object.entries(PAGES).find(([path]) => nameOf(path) === name)?.[1];
const pictureOf = (name: string) => Object.entries(PICTURES).find(([path]) => nameOf(path) === name)?.[1];

export function Guide({ page: first, close }: { page: string; close: () => void }) {
  const [page, setPage] = useState(first);
  const [text, setText] = useState("");
  useEffect(() => {
    let gone = false;
    void pageOf(page)?.().then((found) => !gone && setText(found));
    return () => void (gone = true);
  }, [page]);
  return (
    <Drawer
      title="Guide"
      open
      size={440}
      mask={false}
      onClose={close}
      extra={
        <span style={{ display: "flex", gap: 6 }}>
          {page !== "README" && (
            <Button size="small" onClick={() => setPage("README")}>
              All pages
            </Button>
          )}
          <Button
            size="small"
            onClick={() => {
              close();
              startTour();
            }}
          >
            Show me around
          </Button>
        </span>
      }
    >
      <article className="guide" tabIndex={0}>
        <Markdown
          remarkPlugins={[remarkGfm]}
          components={{
            // Pages of the guide open here; nothing else is linked from them.
            a: ({ href, children }) => {
              const to = nameOf(href ?? "");
              return pageOf(to) ? (
                <button type="button" className="link" onClick={() => setPage(to)}>
                  {children}
                </button>
              ) : (
                <span>{children}</span>
              );
            },
            img: ({ src, alt }) => <img src={pictureOf(nameOf(String(src)))} alt={alt} />,
          }}
        >
          {text}
        </Markdown>
      </article>
    </Drawer>
  );
}
