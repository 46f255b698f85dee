/** Which page an address shows. */
import { Button, Spin } from "antd";
import { lazy, type ReactNode, Suspense, useMemo } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { Navigate, Route, Routes, useLocation, useParams, useSearchParams } from "react-router";
import { RoadContext, useMe } from "../api/hooks";
import { MAIN } from "../api/kinds";
import { Frame } from "./Frame";
import { Projects } from "./Projects";
import { ResetPassword, SignIn } from "./SignIn";
import { stops } from "./stops";

/** Drawings are loaded when a window shows them. */
const Beside = lazy(() => import("./Beside"));

const waiting = (
  <div className="empty">
    <Spin />
  </div>
);

/** A stop that broke, or whose program could not be loaded: the rest of the application goes on. */
function Broken({ error, resetErrorBoundary }: FallbackProps) {
  const words = error instanceof Error ? error.message : String(error);
  const notLoaded = /import|module|chunk|fetch/i.test(words);
  return (
    <div className="empty" role="alert">
      <h2>{notLoaded ? "This stop could not be loaded" : "This stop has stopped"}</h2>
      <p>{notLoaded ? "The server may have been renewed or is out of reach." : "What was saved is safe. The other stops go on."}</p>
      <p className="mono quiet">{words}</p>
      <span style={{ display: "flex", gap: 8 }}>
        <Button type="primary" onClick={() => window.location.reload()}>
          Load the page again
        </Button>
        {!notLoaded && <Button onClick={resetErrorBoundary}>Try this stop again</Button>}
      </span>
    </div>
  );
}

/** The server is out of reach: nobody is signed out by that. It is asked again until it answers. */
function Away() {
  return (
    <div className="empty" role="alert" style={{ height: "100vh" }}>
      <h2>The server cannot be reached</h2>
      <p>It is tried again every few seconds. What you typed is kept.</p>
      <Spin />
    </div>
  );
}

/** What does not ask for the address itself is not rendered anew at every step along the road. */
export function Pages() {
  return (
    <Routes>
      <Route path="/reset" element={<ResetPassword />} />
      <Route path="*" element={<SignedIn />} />
    </Routes>
  );
}

function SignedIn() {
  const me = useMe();
  if (me.isPending) return waiting;
  if (me.isError && !me.data) return <Away />;
  if (!me.data.name) return <SignIn demoNames={me.data.demo_names} />;
  return (
    <Routes>
      <Route path="/" element={<Projects />} />
      <Route
        path="/p/:projectId/beside"
        element={
          <ErrorBoundary FallbackComponent={Broken}>
            <Suspense fallback={waiting}>
              <OneRoad>
                <Beside />
              </OneRoad>
            </Suspense>
          </ErrorBoundary>
        }
      />
      <Route
        path="/p/:projectId"
        element={
          <OneRoad>
            <Frame />
          </OneRoad>
        }
      >
        <Route index element={<First />} />
        {stops.map(({ path, page: Page }) => (
          <Route
            key={path}
            path={path}
            element={
              <ErrorBoundary key={path} FallbackComponent={Broken}>
                <Suspense fallback={waiting}>
                  <Page />
                </Suspense>
              </ErrorBoundary>
            }
          />
        ))}
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

/** Everything begins anew in another project and on another road: nothing of the one before is shown in it. */
function OneRoad({ children }: { children: ReactNode }) {
  const project_id = Number(useParams().projectId);
  const road = useSearchParams()[0].get("road") ?? MAIN;
  const of = useMemo(() => ({ path: { project_id }, query: { road } }), [project_id, road]);
  return (
    <RoadContext key={`${project_id} ${road}`} value={of}>
      {children}
    </RoadContext>
  );
}

/** A project is opened where most work is done. */
function First() {
  return <Navigate to={{ pathname: "overlay", search: useLocation().search }} replace />;
}
