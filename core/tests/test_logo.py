"""Logos: what goes into a title block, where it comes to lie, and what is refused with which words."""

import base64
import io
import time
from unittest import TestCase

import ezdxf
import numpy as np
import shapely
from PIL import Image
from pypdf import PdfReader

from saddle.drawings.display import Page, Picture, Polygon, Room
from saddle.drawings.logo import check_logo, logo_items
from saddle.drawings.spec import TitleBlock
from saddle.drawings.title import Said, Standing, draw_title
from saddle.drawings.writers.dxf import pages_to_dxf
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.drawings.writers.svg import page_to_svg

ROOM = Room(10.0, 20.0, 40.0, 30.0)


def svg(body: str, size: str = 'viewBox="0 0 100 50"') -> str:
    text = f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'
    return "data:image/svg+xml;base64," + base64.b64encode(text.encode()).decode()


def png(width: int, height: int) -> str:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 120, 60)).save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


def outline(items: list) -> shapely.Geometry:  # type: ignore[type-arg]
    return shapely.union_all([shapely.Polygon(i.points) for i in items if isinstance(i, Polygon)])


class Bombs(TestCase):
    def test_small_files_that_would_cost_much(self) -> None:
        """A star of 455 bytes once cost seconds, one of 2,000 corners 4.8 GB."""

        def star(n: int, step: int) -> str:
            angles = 2 * np.pi * np.arange(n) * step / n
            places = " ".join(f"{100 + 90 * np.cos(a):.2f},{100 + 90 * np.sin(a):.2f}" for a in angles)
            return f'<polygon points="{places}" fill="#000"/>'

        holes = " ".join(f"M{10 * i} {10 * j}h5v5h-5z" for i in range(1, 40) for j in range(1, 40))
        for body, words in (
            (star(59, 29), "crosses itself"), (star(2000, 999), "crosses itself"), (star(20, 7) * 200, "crosses itself"),
            (f'<path fill="#000" d="M0 0H2000V2000H0Z{holes}"/>', "more than 300 outlines"),
            ('<circle cx="9" cy="9" r="8" fill="#000"/>' * 1900, "corners"),
        ):  # fmt: skip
            begun = time.monotonic()
            with self.assertRaisesRegex(ValueError, words):
                check_logo(svg(body))
            self.assertLess(time.monotonic() - begun, 10)
        self.assertTrue(check_logo(svg(star(5, 2))))


class Logos(TestCase):
    def test_a_picture_keeps_its_proportions(self) -> None:
        (item,) = logo_items(png(400, 100), ROOM)
        assert isinstance(item, Picture)
        self.assertEqual((item.room.left, item.room.width, item.room.height), (10.0, 30.0, 7.5))
        self.assertEqual(item.room.bottom + item.room.top, 50.0, "in the middle of the height")

    def test_a_drawing_becomes_outlines_of_its_colours(self) -> None:
        body = '<rect width="100" height="50" fill="#204060"/><g transform="translate(50 25)"><circle r="20" fill="#F0C040"/></g>'
        items = logo_items(svg(body), ROOM)
        self.assertEqual([i.fill.lower() for i in items if isinstance(i, Polygon)], ["#204060", "#f0c040"])
        ground, disc = (shapely.Polygon(i.points) for i in items if isinstance(i, Polygon))
        np.testing.assert_allclose(ground.bounds, (10.0, 20.0, 30.0, 30.0), atol=1e-9)
        np.testing.assert_allclose((disc.centroid.x, disc.centroid.y), (20.0, 25.0), atol=1e-6)
        self.assertAlmostEqual(disc.area / (np.pi * 4.0**2), 1.0, delta=0.02)  # 20 units are 4 mm

    def test_holes_stay_open(self) -> None:
        frame = '<path fill-rule="evenodd" fill="#000000" d="M0 0H100V50H0ZM20 10V40H40V10ZM60 10V40H80V10Z"/>'
        items = logo_items(svg(frame), ROOM)
        self.assertGreater(len(items), 2)
        found = outline(items)
        self.assertAlmostEqual(found.area, (100 * 50 - 2 * 20 * 30) * 0.2**2, 6)
        for x in (30, 70):
            self.assertFalse(found.contains(shapely.Point(10 + 0.2 * x, 25)))
        overlap = sum(shapely.Polygon(i.points).area for i in items if isinstance(i, Polygon)) - found.area
        self.assertAlmostEqual(overlap, 0.0, 6)

    def test_what_cannot_be_drawn_is_refused_with_what_to_do(self) -> None:
        rect = '<rect width="9" height="9" fill="#112233"/>'
        entity = "data:image/svg+xml;base64," + base64.b64encode(b'<!DOCTYPE s [<!ENTITY a "b">]><svg/>').decode()
        for data, why in (
            ("data:image/jpeg;base64,AAAA", "PNG or SVG"),
            ("data:image/png;base64,AAAA", "no PNG that can be read"),
            (png(4000, 10), "4000 x 10 pixels"),
            ("data:image/png;base64," + "A" * 140_000, "105 kB"),
            (svg(rect + "<script>1</script>"), "<script>"),
            (svg(rect + '<image href="x.png"/>'), "<image>"),
            (svg("<text>Roads</text>"), "into paths"),
            (svg('<path d="M0 0H9" stroke="#000" fill="none"/>'), "turn strokes into paths"),
            (svg(rect + '<circle r="4" fill="none" stroke="#000"/>'), "turn strokes into paths"),
            (svg('<rect width="9" height="9" fill="url(#a)"/>'), "gradients"),
            (svg('<rect width="9" height="9" fill="none"/>'), "plain colour"),
            (svg(rect * 2001), "2001 shapes"),
            (svg("<rect"), "no SVG that can be read"),
            (entity, "<!doctype>"),
        ):
            with self.assertRaisesRegex(ValueError, why):
                check_logo(data)
            with self.assertRaises(ValueError):
                TitleBlock(logo=data)
        self.assertEqual(check_logo(""), "")

    def test_every_kind_of_file_holds_it(self) -> None:
        said = Said("Project", "Title", "Plan", "PL", "1 of 1", "", "1:500")
        for logo in (png(60, 40), svg('<rect width="9" height="6" fill="#204060"/>')):
            block = TitleBlock(owner="Vale Roads Office", logo=logo)
            items = draw_title("A3", block, said, Standing("A", "for approval", "2026-11-27"))
            page = Page("one", 420.0, 297.0, items)
            (mark,) = (i for i in items if i.source == "logo")
            room = mark.room if isinstance(mark, Picture) else Room(*shapely.Polygon(mark.points).bounds)  # type: ignore[union-attr]
            owner = next(i for i in items if getattr(i, "text", "") == "Vale Roads Office")
            self.assertLess(room.right, owner.at[0])  # type: ignore[union-attr]
            self.assertIn('data-source="logo"', page_to_svg(page))
            (sheet,) = PdfReader(io.BytesIO(pages_to_pdf([page], "one"))).pages
            self.assertEqual(len(sheet.images), int(isinstance(mark, Picture)))
            document = ezdxf.read(io.StringIO(pages_to_dxf([page]).decode()))  # type: ignore[attr-defined]
            self.assertEqual(document.audit().errors, [])
