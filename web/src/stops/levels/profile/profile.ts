/** A profile on the screen: the server's look at it, and what can be done with it. */
import { useMemo } from "react";
import { api, dataOf, type Schemas } from "../../../api/client";
import { type OfRoad, type SpecOf, useOfRoad, useSummary } from "../../../api/hooks";
import { useLatest } from "../../../api/latest";
import type { ProfileLook } from "../../../common/LongLayers";

export type Profile = SpecOf<"profile">;
export type ProfileEdit = NonNullable<Schemas["TryProfileIn"]["edit"]>;

/** What an edit makes of a profile and what that amounts to, asked for at every change; asks nothing without a profile. */
export function useProfileLook(spec: Profile | undefined, edit: ProfileEdit | null, speed: number) {
  const of = useOfRoad();
  const stamp = useSummary().data?.stamp;
  const question = useMemo(() => (spec ? { spec, edit, speed_kmh: speed, stamp } : null), [spec, edit, speed, stamp]);
  return useLatest(question, async ({ spec, edit, speed_kmh }): Promise<ProfileLook> => tryProfile(of, spec, edit, speed_kmh));
}

export async function tryProfile(of: OfRoad, spec: Profile, edit: ProfileEdit | null, speed_kmh: number): Promise<ProfileLook> {
  return dataOf(await api.POST("/api/projects/{project_id}/profiles/try", { params: of, body: { spec, edit, speed_kmh } })) as ProfileLook;
}

/** Two profiles with the same IPs are one. */
export const same = (a: Profile, b: Profile) => JSON.stringify(a.points) === JSON.stringify(b.points);
