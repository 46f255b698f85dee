"""Checking and importing a survey file: the same reading twice, written only at the end of the second."""

from collections.abc import Sequence
from dataclasses import asdict, replace
from functools import cached_property
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import Subquery

from design.actions.change import Change, change_documents, lock
from design.models import Document
from design.specs import the_spec
from foreign.apart import apart, for_a_job
from jobs.models import Job
from jobs.run import Report, complete, handles
from saddle.alignment.spec import AlignmentSpec
from saddle.documents import MAIN
from saddle.documents_base import Document as Spec
from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.dxf.read import backgrounds_of, rules_of
from saddle.exchange.dxf.spec import DrawingMapping
from saddle.exchange.found import Found, NamedSurface
from saddle.exchange.placing import Placing, judge
from saddle.exchange.readers import FileRead, ReadAs, read_survey
from saddle.exchange.systems import in_degrees, name_of
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats, Ints
from saddle.terrain.in_use import Beside, SurveyInUse
from saddle.terrain.meanings import suggested
from saddle.terrain.part import moved_along, outside
from saddle.terrain.spec import MOST_CODES, CodeList, CodeRule, ColumnMapping, FromSurvey, Imported, SurfaceSpec, Thinning
from saddle.terrain.spikes import steep
from saddle.terrain.survey import BuiltSurface, Survey, build_surface, collect, kept_part
from saddle.terrain.together import Layer, PutTogether, both, put_together
from survey import models
from survey.bodies import CheckReport, ImportReport, MovedOut, PartOut, SketchOut, SuggestionOut
from survey.looks import chainages_of, drawing_out, placing_out, sketched, way_of, what_is_there
from survey.store import in_use, layers, load, pack, survey_of
from survey.surfaces import code_list, keep, noticed_about, surface_specs

#: Skipped rows listed in a report; the total is always told.
LISTED = 500


def content_of(upload: models.Upload) -> bytes:
    """The file, read for the while that it is needed: it may be large."""
    content = models.Upload.objects.filter(pk=upload.pk).values_list("content", flat=True).first()
    if content is None:
        raise ImportProblem("the uploaded file is gone", hint="choose it again")
    return bytes(content)


def read_file(upload: models.Upload, params: dict[str, Any], report: Report) -> FileRead:
    """Everything a file holds. params: as ImportIn."""
    mapping, used = params.get("mapping"), in_use(upload.project)
    how = ReadAs(
        mapping=None if mapping is None else ColumnMapping.model_validate(mapping),
        drawing=DrawingMapping.model_validate(params.get("drawing") or {}),
        thinning=Thinning.model_validate(params.get("thinning") or {}), swapped=bool(params.get("swapped")), unit=params.get("unit"), none=params.get("none"),
        mode=params.get("mode") or "replace", usual=used.unit, system=used.system or params.get("into") or "", way=way_of(upload.project),
        alignment=the_spec(upload.project, AlignmentSpec, "alignment"), said=params.get("system") or "",
    )  # fmt: skip
    data = content_of(upload)
    return apart(read_survey, data, upload.name, how, room=for_a_job(len(data)), report=report)


class Taken:
    """An upload read: what it holds, the codes as they would be, and the surface over its points if there is one."""

    def __init__(self, job: Job, report: Report) -> None:
        params = job.params
        upload = models.Upload.objects.filter(pk=params["upload"], project=job.project).defer("content").first()
        if upload is None:
            raise ImportProblem("the uploaded file is gone", hint="choose it again")
        self.upload, self.job = upload, job
        self.mode = params.get("mode")
        read = read_file(upload, params, lambda share: report(0.5 * share))
        said = DrawingMapping.model_validate(params.get("drawing") or {})
        if read.drawing is not None and said.zero == "guess" and _empty(read.found) and self.mode != "background":
            # All of it lies at level 0: a drawing to be looked at, and no survey.
            self.mode = "background"
            read = read_file(upload, {**params, "mode": self.mode}, report)
        self.format, self.found, self.reading, self.drawing = read.format, read.found, read.reading, read.drawing
        self.system = read.system
        everything, rows, empty = collect(self.found.table), self.found.table.row, _empty(self.found)
        # A million points as texts would take up more room than all that is made of them.
        self.found = replace(self.found, table=TableBuilder().table())
        beneath = np.isin(everything.code, backgrounds_of(said)) | (self.mode == "background")
        self.survey = kept_part(everything, ~beneath) if beneath.any() else everything
        self.table_rows, self.background_rows = rows[~beneath], rows[beneath]
        #: What is only drawn beneath the survey.
        self.background = kept_part(everything, beneath)
        given = [] if self.drawing is None else rules_of(said, self.drawing)
        given += [CodeRule.model_validate(r) for r in params["rules"]]
        self.codes = _merged(code_list(job.project), given, self.survey)
        self.spec = FromSurvey(longest_edge=params["longest_edge"])
        self.used = in_use(job.project)
        self.before = survey_of(job.project)
        self.first = self.before is None
        #: Of a later survey of a part, what is there already and stays.
        self.older: Survey | None = None
        self.part: PartOut | None = None
        self.surface: BuiltSurface | None = None
        self.wrong: str | None = None
        if empty:
            first = (
                f"; the first of {len(self.found.skipped)} remarks: {self.found.skipped[0].reason}" if self.found.skipped else ""
            )
            raise ImportProblem(f"the file holds no point, surface or alignment that can be used{first}", "file")
        if self.first and len(self.survey.number) == 0 and len(self.background.number):
            raise ImportProblem("a background lies under a survey, and there is none yet", "survey", "import the survey first")
        if len(self.survey.number):
            try:
                self._build(lambda share: report(0.5 + 0.4 * share))
            except (ImportProblem, GeometryError) as error:
                self.wrong = error.message
                may_do_without = bool(self.found.surfaces or self.found.alignments)
                if job.kind == "check_survey":
                    # Degrees taken for metres are all one point: first it is asked what they are.
                    may_do_without = (
                        may_do_without or not self.first or "degrees" in self.placing(what_is_there(job.project)).doubts
                    )
                if not may_do_without or (self.mode == "part" and job.kind == "import_survey"):
                    raise

    def _build(self, progress: Report) -> None:
        """The surface over what would be written, and which part of what is there the file covers."""
        mode = self.mode
        if self.before is not None and (mode == "part" or self.job.kind == "check_survey"):
            alone = build_surface(self.survey, self.codes, self.spec, progress)
            left, gone = outside(self.before, alone.surface)
            pieces = moved_along(self.before, alone.surface, self.codes, chainages_of(self.job.project, self.before))
            self.part = PartOut(replaced=int(gone.sum()), kept=len(left.number), moved=[MovedOut(**asdict(p)) for p in pieces])
            if mode == "replace":
                self.surface = alone
                return
            if mode == "part":
                self.older = left
        self.surface = build_surface(self.whole, self.codes, self.spec, progress)

    @cached_property
    def written(self) -> Survey:
        """The points and lines of the import."""
        return both(self.older, self.survey) if self.older is not None else self.survey

    @cached_property
    def together(self) -> PutTogether:
        """The survey as it will count: the import, beside what is there where it is added."""
        if self.mode != "add" or self.used.survey is None:
            return PutTogether(self.written, (), len(self.written.number))
        return put_together(load(self.used.survey).survey, [*layers(self.used), Layer(self.survey)], self.used.edits)

    @property
    def whole(self) -> Survey:
        """The points and lines of the survey as it will count."""
        return self.together.survey

    @cached_property
    def rows(self) -> Ints:
        """Of the file, that the points of the whole stand in; 0 for those that were there already and those of edits."""
        earlier, later = self.together.before - len(self.table_rows), len(self.whole.number) - self.together.before
        return np.concatenate([np.zeros(earlier, dtype=int), self.table_rows, np.zeros(later, dtype=int)])

    def used_after(self, survey_id: int | None, background_id: int | None) -> SurveyInUse:
        """Which imports count with this one, written under ids. What replaces all or a part of the survey holds what stays of it;
        backgrounds stay."""
        used = self.used.changed(system=self.used.system or self.found.system)
        beneath = [] if background_id is None else [Beside(survey=background_id, background=True)]
        if survey_id is None:
            return used.changed(beside=[*used.beside, *beneath])
        if self.mode == "add" and not self.first:
            return used.changed(beside=[*used.beside, Beside(survey=survey_id), *beneath])
        stay = [b for b in used.beside if b.background]
        return used.changed(survey=survey_id, beside=[*stay, *beneath], edits=[])

    def placing(self, there: Floats) -> Placing:
        """How the file lies among what the project has."""
        places = [self.told.xyz, *(s.tin.points for s in self.found.surfaces)]
        found = judge(np.vstack(places), self.reading, there, self.found.asked, self.found.axes)
        if self.told is self.background:  # nobody asks a background for its level
            found.doubts.pop("level", None)
        return found

    @property
    def told(self) -> Survey:
        """The points and lines that are told of: of a file that only lies beneath the survey what is drawn of it."""
        return self.survey if len(self.survey.number) or self.found.surfaces or self.found.alignments else self.background

    def refuse_doubts(self, sure: list[str]) -> None:
        """Raises ImportProblem while something is in doubt that nobody has said is so."""
        for doubt, words in self.placing(what_is_there(self.job.project)).doubts.items():
            if doubt not in sure:
                raise ImportProblem(words, "place", "check the file, and say there that it is so or how it is to be read")

    def describe(self, s: Survey) -> dict[str, Any]:
        """What was found: counts, codes and extent of the points `s`, surfaces, alignments, what is left out and why."""
        found = self.found
        skipped = [{"row": r.row, "reason": r.reason} for r in found.skipped]
        if self.wrong is not None:
            skipped.append({"row": 0, "reason": f"no surface can be made of these points alone: {self.wrong}"})
        if self.surface is not None:
            skipped += [
                {"row": int(self.rows[c.point]), "reason": f"{c.reason}; it is kept, but not in the surface"}
                for c in self.surface.conflicts
            ]
        skipped.sort(key=lambda r: int(str(r["row"])))
        return {
            "format": self.format,
            "points": len(s.number),
            "none": [asdict(n) for n in found.none],
            "steep": 0 if self.surface is None else steep(self.surface.surface),
            "triangles": len(self.surface.surface.triangles) if self.surface else 0,
            **counts(s, [n.tin.points for n in found.surfaces]),
            "skipped": skipped[:LISTED],
            "skipped_total": len(skipped),
            "crossings": self.surface.told if self.surface else [],
            "surfaces": [{"name": n.name, "triangles": len(n.tin.triangles)} for n in found.surfaces],
            "alignments": [
                {
                    "name": a.spec.name,
                    "length": sum(e.length for e in a.spec.elements),
                    "elements": len(a.spec.elements),
                    "profiles": [p.name for p in a.profiles],
                }
                for a in found.alignments
            ],
        }


def counts(s: Survey, others: Sequence[Floats] = ()) -> dict[str, Any]:
    """Extent of a survey with other points, and its codes with their points and lines."""
    codes, of, points = np.unique(s.code, return_inverse=True, return_counts=True)
    on_line = s.line != ""
    lines = [len(np.unique(s.line[(of == i) & on_line])) for i in range(len(codes))]
    places = [p for p in (s.xyz, *others) if len(p)]
    everything = np.concatenate(places) if places else np.zeros((1, 3))
    return {
        "extent": [float(v) for v in (*everything.min(axis=0), *everything.max(axis=0))],
        "codes": [{"code": str(c), "points": int(n), "lines": k} for c, n, k in zip(codes, points, lines, strict=True)],
    }


def _sketch(taken: Taken) -> SketchOut:
    if taken.told is taken.background:
        return sketched(taken.background, taken.background_rows, None, taken.codes, taken.found)
    return sketched(taken.whole, taken.rows, taken.surface, taken.codes, taken.found)


def _empty(found: Found) -> bool:
    """Whether a file holds nothing that can be used."""
    return len(found.table.number) == 0 and not found.surfaces and not found.alignments


def _merged(codes: CodeList, given: list[CodeRule], survey: Survey) -> CodeList:
    """The code list with what the person said, and a guess for every code that is still unknown."""
    rules = {r.code: r for r in codes.rules} | {r.code: r for r in given}
    found = np.unique(survey.code)
    if len(found) > MOST_CODES:
        raise ImportProblem(
            f"the file has {len(found):,} different codes; at most {MOST_CODES:,} are taken", "code",
            "the column may hold numbers or remarks: choose another one for the code, or none",
        )  # fmt: skip
    for code in found:
        rules.setdefault(str(code), codes.rule(str(code)))
    return CodeList(rules=list(rules.values()))


@handles("check_survey", CheckReport, minutes=20, quick=True)
def check_survey(job: Job, report: Report) -> CheckReport:
    """Read everything, write nothing."""
    taken = Taken(job, report)
    found = taken.describe(taken.told)
    rules = [taken.codes.rule(c["code"]) for c in found["codes"]]
    there = what_is_there(job.project)
    known = {r.code for r in rules if r.meaning != "other"}
    offered = suggested(taken.survey, way_of(job.project), known)
    return CheckReport(
        name=taken.upload.name, **found, rules=rules, suggestions=[SuggestionOut(**asdict(s)) for s in offered], sketch=_sketch(taken), only_background=taken.told is taken.background and not taken.told.xyz[:, 2].any(),
        placing=placing_out(taken.placing(there), there), drawing=None if taken.drawing is None else drawing_out(taken.drawing), part=taken.part, unit=taken.reading.unit,
        system=name_of(taken.system) if taken.system else "",
        grid=name_of(taken.found.system) if taken.found.system else "", gridded=bool(taken.used.system), degrees=bool(taken.system) and in_degrees(taken.system),
    )  # fmt: skip


@handles("import_survey", ImportReport, minutes=40)
def import_survey(job: Job, report: Report) -> ImportReport:
    """Read everything again and write it in one transaction."""
    reading = Taken(job, report)
    reading.refuse_doubts(job.params.get("sure", []))
    beneath = reading.background
    survey = reading.written if len(reading.survey.number) else reading.survey
    alone = len(survey.number) == 0 and not reading.found.surfaces and not reading.found.alignments
    # Made before the lock: others would wait for it.
    row = None if alone else _row(reading, reading.upload.name, survey, reading.found.surfaces)
    under = None
    if len(beneath.number):
        under = _row(reading, reading.upload.name if alone else f"{reading.upload.name}, background"[:200], beneath, [])
    noticed = None if reading.surface is None else noticed_about(reading.surface, reading.whole)
    written = row or under
    assert written is not None
    report(0.95)
    with transaction.atomic():
        lock(job.project)  # what is there is read and changed with nobody else in between
        if in_use(job.project) != reading.used:
            raise ImportProblem("somebody changed the survey while the file was read", "survey", "import the file again")
        for made in (row, under):
            if made is not None:
                made.save()
                # The file is copied where it lies, not fetched and sent back.
                content = models.Upload.objects.filter(pk=reading.upload.pk).values("content")
                models.Survey.objects.filter(pk=made.pk).update(original=Subquery(content[:1]))
        changes = [
            Change(kind, key, spec, row_of.version if row_of else 0)
            for (kind, key), spec in _documents(job, reading, row, under).items()
            for row_of in [Document.objects.filter(project=job.project, kind=kind, key=key).first()]
        ]
        change_documents(job.project, job.user, f"Import of {written.name}"[:200], changes)
        reading.upload.delete()
        main = surface_specs(job.project)[MAIN]
        if reading.surface is not None and noticed is not None and main.source == reading.spec:
            keep(job.project, main, code_list(job.project), reading.surface.surface, noticed)
        given = ImportReport(name=written.name, **written.report, survey=written.pk)
        complete(job, given)
    return given


def _row(reading: Taken, name: str, survey: Survey, surfaces: list[NamedSurface]) -> models.Survey:
    """A row of the imports that a project keeps, not yet written, and without the file itself."""
    return models.Survey(
        project=reading.job.project, user=reading.job.user, name=name,
        arrays=pack(survey, surfaces), report=reading.describe(survey), points=len(survey.number),
    )  # fmt: skip


def _documents(job: Job, reading: Taken, row: models.Survey | None, under: models.Survey | None) -> dict[tuple[str, str], Spec]:
    """What an import changes, by kind and key: the survey in use, code list, surfaces, alignments and profiles that come with it.
    row, under: the import as it is kept, and what of it lies beneath the survey."""
    out: dict[tuple[str, str], Spec] = {}
    counts = row is not None and (len(reading.survey.number) > 0 or reading.first)
    if counts or under is not None:
        out["survey", MAIN] = reading.used_after(row.pk if counts and row else None, under.pk if under else None)
    if row is None:
        return out
    survey_id = row.pk
    if len(reading.survey.number):
        out["code_list", MAIN] = reading.codes
        main = surface_specs(job.project)[MAIN]
        if isinstance(main.source, FromSurvey) and main.source.longest_edge != reading.spec.longest_edge:
            out["surface", MAIN] = main.changed(source=main.source.changed(longest_edge=reading.spec.longest_edge))
    for number in job.params.get("surfaces", []):
        if number < len(reading.found.surfaces):
            spec = SurfaceSpec(name=reading.found.surfaces[number].name, source=Imported(survey=survey_id, number=number))
            whole = reading.first and not len(reading.survey.number) and number == min(job.params["surfaces"])
            out["surface", MAIN if whole else f"surface-{survey_id}-{number}"] = spec
    there = Document.objects.filter(project=job.project, kind="alignment", key=MAIN).exists()
    for number in job.params.get("alignments", []):
        if number < len(reading.found.alignments):
            named = reading.found.alignments[number]
            key = f"alignment-{survey_id}-{number}" if there or ("alignment", MAIN) in out else MAIN
            out["alignment", key] = named.spec
            for k, profile in enumerate(named.profiles):
                if f"{number}.{k}" not in job.params.get("profiles_left", []):
                    out["profile", f"profile-{survey_id}-{number}" + (f"-{k}" if k else "")] = profile.changed(alignment=key)
    return out
