"""Display list to SVG, one page."""

import base64
from xml.sax.saxutils import escape, quoteattr

from saddle.drawings.display import PATTERNS, Page, Picture, Place, Polygon, Polyline, Text
from saddle.drawings.lettering import SIZE_PER_CAPITAL

FAMILIES = {
    "text": "'Overpass Variable', Overpass, sans-serif",
    "bold": "'Overpass Variable', Overpass, sans-serif",
    "mono": "'Overpass Mono Variable', 'Overpass Mono', monospace",
}
ANCHORS = {"left": "start", "centre": "middle", "right": "end"}


def page_to_svg(page: Page) -> str:
    """A standalone SVG with user units of 1 mm."""
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{page.width:g}mm" height="{page.height:g}mm" text-rendering="geometricPrecision" '
        f'viewBox="0 0 {page.width:g} {page.height:g}" role="img" aria-label={quoteattr(page.name)}>',
        "<defs>",
    ]
    used = sorted({item.pattern for item in page.items if isinstance(item, Polygon)})
    for name in used:
        for number, family in enumerate(PATTERNS[name]):
            length = sum(family.dashes) or 10
            dash = f' stroke-dasharray="{" ".join(f"{d:g}" for d in family.dashes)}"' if family.dashes else ""
            out.append(
                f'<pattern id="{name}-{number}" patternUnits="userSpaceOnUse" width="{length:g}" '
                f'height="{family.spacing:g}" patternTransform="rotate({-family.angle_deg:g})">'
                f'<path d="M0 {family.spacing / 2:g}H{length:g}" stroke="#1B2327" stroke-width="0.13"{dash}/></pattern>'
            )
    out.append(f'</defs><rect width="{page.width:g}" height="{page.height:g}" fill="#fff"/>')

    def xy(p: Place) -> str:
        return f"{p[0]:.3f},{page.height - p[1]:.3f}"

    for item in page.items:
        about = f'data-layer="{item.layer}" data-source={quoteattr(item.source)}'
        if isinstance(item, Polyline):
            dash = f' stroke-dasharray="{" ".join(f"{d:g}" for d in item.dashes)}"' if item.dashes else ""
            out.append(
                f'<polyline points="{" ".join(map(xy, item.points))}" fill="none" stroke="{item.colour}" '
                f'stroke-width="{item.width:g}" stroke-linejoin="round"{dash} {about}/>'
            )
        elif isinstance(item, Polygon):
            points = " ".join(map(xy, item.points))
            out.append(f'<polygon points="{points}" fill="{item.fill}"{_outline(item)} {about}/>')
            fills = range(len(PATTERNS[item.pattern]))
            out.extend(f'<polygon points="{points}" fill="url(#{item.pattern}-{number})"/>' for number in fills)
        elif isinstance(item, Picture):
            at, png = item.room, base64.b64encode(item.png).decode()
            out.append(
                f'<image x="{at.left:.3f}" y="{page.height - at.top:.3f}" width="{at.width:.3f}" height="{at.height:.3f}" '
                f'href="data:image/png;base64,{png}" {about}/>'
            )
        else:
            out.append(_text(item, page.height, about))
    out.append("</svg>")
    return "\n".join(out)


def _outline(item: Polygon) -> str:
    return f' stroke="{item.colour}" stroke-width="{item.width:g}"' if item.width else ""


def _text(item: Text, height: float, about: str) -> str:
    x, y = item.at[0], height - item.at[1]
    turn = f' transform="rotate({-item.rotation} {x:.3f} {y:.3f})"' if item.rotation else ""
    weight = ' font-weight="650"' if item.font == "bold" else ""
    return (
        f'<text x="{x:.3f}" y="{y:.3f}" font-family="{FAMILIES[item.font]}" font-size="{item.height * SIZE_PER_CAPITAL:.3f}"'
        f'{weight} text-anchor="{ANCHORS[item.anchor]}" fill="{item.colour}"{turn} {about}>{escape(item.text)}</text>'
    )
