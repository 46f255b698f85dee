/** Which page an address shows. */
import { Spin } from "antd";
import { Suspense } from "react";
import { Navigate, Route, Routes } from "react-router";
import { useMe } from "../api/hooks";
import { Frame } from "./Frame";
import { Projects } from "./Projects";
import { SignIn } from "./SignIn";
import { stops } from "./stops";

const waiting = (
  <div className="empty">
    <Spin />
  </div>
);

export function Pages() {
  const me = useMe();
  if (me.isPending) return waiting;
  if (!me.data?.name) return <SignIn demoNames={me.data?.demo_names ?? []} />;
  return (
    <Routes>
      <Route path="/" element={<Projects />} />
      <Route path="/p/:projectId" element={<Frame />}>
        <Route index element={<Navigate to="overlay" replace />} />
        {stops.map(({ path, page: Page }) => (
          <Route
            key={path}
            path={path}
            element={
              <Suspense fallback={waiting}>
                <Page />
              </Suspense>
            }
          />
        ))}
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}
