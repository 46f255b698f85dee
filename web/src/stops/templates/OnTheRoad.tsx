/** The section at the current chainage with the template as it stands on the screen, saved or not. */
import { Alert } from "antd";
import { useSection } from "../../api/preview";
import { usePlace } from "../../base/place";
import { LiveSection } from "../../drawing/LiveSection";

export function OnTheRoad({ name }: { name: string }) {
  const { section } = useSection(usePlace().index);
  return (
    <>
      {section && section.template !== name && (
        <Alert
          banner
          type="info"
          title={`Here stands ${section.template ? `“${section.template}”` : "no template"}. Step to where “${name}” is applied, or apply it to a range.`}
        />
      )}
      <div style={{ flex: 1, minHeight: 0 }}>
        <LiveSection />
      </div>
    </>
  );
}
