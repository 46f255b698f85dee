/** The road that is worked on, in the header: the others, and the list of roads. */
import { Dropdown } from "antd";
import { useEffect, useState } from "react";
import { useRoadKey, useRoads } from "../api/hooks";
import { useGoToRoad } from "../base/roads";
import { later } from "../common/later";
import { stepping } from "../base/stepping";

const RoadsDialog = later(() => import("./RoadsDialog").then((m) => m.RoadsDialog));
const LIST = "list of roads"; // no key has a blank

export function RoadMenu() {
  const roads = useRoads();
  const road = useRoadKey();
  const go = useGoToRoad();
  const [open, setOpen] = useState(false);
  const [listing, setListing] = useState(false);
  useEffect(() => {
    stepping.roads = () => setOpen(true);
  }, []);
  const name = roads.find((d) => d.key === road)?.spec.name;
  return (
    <>
      <Dropdown
        trigger={["click"]}
        autoFocus
        open={open}
        onOpenChange={setOpen}
        menu={{
          selectable: true,
          selectedKeys: [road],
          items: [...roads.map((d) => ({ key: d.key, label: d.spec.name })), { type: "divider" }, { key: LIST, label: "List of roads" }],
          onClick: ({ key }) => {
            setOpen(false);
            if (key === LIST) setListing(true);
            else go(key);
          },
        }}
      >
        <button type="button" className="road" data-key="W" aria-keyshortcuts="w" aria-label={`Road ${name ?? ""}`} title="The road that is worked on (W)">
          {name ?? "no such road"}
        </button>
      </Dropdown>
      {listing && <RoadsDialog close={() => setListing(false)} />}
    </>
  );
}
