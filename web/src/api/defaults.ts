/** What the parts of documents begin with, by their names in the API's schema. Written by bin/schema; not to be edited. */
import type { Schemas } from "./client";

interface Defaults {
  AdoptedCrossfall: Pick<Schemas["AdoptedCrossfall"], "by">;
  AfterLength: Pick<Schemas["AfterLength"], "by">;
  AlignmentFound: Pick<Schemas["AlignmentFound"], "profiles">;
  AlignmentSpec: Pick<Schemas["AlignmentSpec"], "equations" | "name" | "start_chainage">;
  AlongPath: Pick<Schemas["AlongPath"], "kind" | "name" | "remark">;
  Arc: Pick<Schemas["Arc"], "kind">;
  At: Pick<Schemas["At"], "angle_deg" | "kind" | "name" | "remark">;
  AtChainage: Pick<Schemas["AtChainage"], "by">;
  AtOffset: Pick<Schemas["AtOffset"], "by">;
  AtPoint: Pick<Schemas["AtPoint"], "beyond" | "by">;
  AtStructure: Pick<Schemas["AtStructure"], "kind" | "name" | "remark">;
  AuxiliaryLane: Pick<Schemas["AuxiliaryLane"], "extra" | "kind" | "taper_one_in">;
  Batter: Pick<Schemas["Batter"], "kind" | "one_in">;
  Benched: Pick<Schemas["Benched"], "bench_fall_pct" | "bench_width" | "height" | "kind" | "most_width">;
  Beside: Pick<Schemas["Beside"], "background" | "on">;
  Between: Pick<Schemas["Between"], "kind" | "name" | "past" | "remark">;
  BlockRule: Pick<Schemas["BlockRule"], "code" | "level" | "number" | "point">;
  BusBay: Pick<Schemas["BusBay"], "entry_one_in" | "exit_one_in" | "extra" | "kind" | "stop">;
  ByChainage: Pick<Schemas["ByChainage"], "by">;
  ByDistances: Pick<Schemas["ByDistances"], "by">;
  ByRatio: Pick<Schemas["ByRatio"], "by">;
  Carried: Pick<Schemas["Carried"], "kind" | "surface">;
  CarryOn: Pick<Schemas["CarryOn"], "kind">;
  ChangedFigure: Pick<Schemas["ChangedFigure"], "road">;
  Clothoid: Pick<Schemas["Clothoid"], "kind">;
  Coat: Pick<Schemas["Coat"], "rate">;
  CodeGrammar: Pick<Schemas["CodeGrammar"], "along" | "before" | "between" | "controls" | "figures" | "longest" | "marks" | "points" | "remark">;
  CodeList: Pick<Schemas["CodeList"], "rules">;
  CodeRule: Pick<Schemas["CodeRule"], "breakline" | "colour" | "crossing" | "dashed" | "in_surface" | "meaning" | "width">;
  ColumnMapping: Pick<Schemas["ColumnMapping"], "along" | "breaks" | "decimal" | "delimiter" | "header" | "sheet" | "skip" | "unit">;
  CompareWith: Pick<Schemas["CompareWith"], "after">;
  CopySide: Pick<Schemas["CopySide"], "kind" | "opposite">;
  CornerCurve: Pick<Schemas["CornerCurve"], "beyond" | "by" | "line" | "radius">;
  Course: Pick<Schemas["Course"], "inner" | "outer">;
  CoverGoverns: Pick<Schemas["CoverGoverns"], "kind">;
  Credentials: Pick<Schemas["Credentials"], "code">;
  CrossfallTable: Pick<Schemas["CrossfallTable"], "rows">;
  CurveThrough: Pick<Schemas["CurveThrough"], "kind">;
  CurveWidening: Pick<Schemas["CurveWidening"], "before" | "by" | "rule" | "run" | "share_inside" | "share_outside">;
  Dimension: Pick<Schemas["Dimension"], "unit">;
  DownTo: Pick<Schemas["DownTo"], "kind" | "surface">;
  Drawing: Pick<Schemas["Drawing"], "chainages" | "every" | "insets" | "name" | "number" | "place" | "road" | "style" | "templates" | "untreated">;
  DrawingMapping: Pick<Schemas["DrawingMapping"], "blocks" | "layers" | "swapped" | "texts" | "zero">;
  DrawingStyle: Pick<Schemas["DrawingStyle"], "legend" | "name" | "paper" | "sheets" | "text_height">;
  DrawnLine: Pick<Schemas["DrawnLine"], "by">;
  Drive: Pick<Schemas["Drive"], "kind">;
  DriveTable: Pick<Schemas["DriveTable"], "drive_length" | "field_length" | "upstand_mm">;
  DropWithin: Pick<Schemas["DropWithin"], "kind" | "tolerance_pct">;
  Ease: Pick<Schemas["Ease"], "change_pct" | "keep_cover" | "kind">;
  EdgesGovern: Pick<Schemas["EdgesGovern"], "kind">;
  Ends: Pick<Schemas["Ends"], "kind">;
  Fall: Pick<Schemas["Fall"], "kind" | "turns_with">;
  FarSide: Pick<Schemas["FarSide"], "by">;
  FitThrough: Pick<Schemas["FitThrough"], "fix_ends" | "kind" | "spacing" | "through" | "tolerance_mm">;
  FixedWidth: Pick<Schemas["FixedWidth"], "by" | "left" | "right">;
  FlatDrain: Pick<Schemas["FlatDrain"], "bottom" | "depth" | "inner_one_in" | "kind" | "outer_one_in">;
  Floor: Pick<Schemas["Floor"], "end" | "fill">;
  Flush: Pick<Schemas["Flush"], "kind">;
  Follow: Pick<Schemas["Follow"], "kind">;
  FollowPlan: Pick<Schemas["FollowPlan"], "rules">;
  FollowRule: Pick<Schemas["FollowRule"], "plus" | "what">;
  FromDesign: Pick<Schemas["FromDesign"], "kind">;
  FromProfile: Pick<Schemas["FromProfile"], "kind">;
  FromSurvey: Pick<Schemas["FromSurvey"], "by" | "codes" | "left_out" | "longest_edge">;
  GapOpened: Pick<Schemas["GapOpened"], "by">;
  GivenCrossfall: Pick<Schemas["GivenCrossfall"], "by" | "pct">;
  GuideLevel: Pick<Schemas["GuideLevel"], "kind" | "plus" | "rise">;
  GuideSpec: Pick<Schemas["GuideSpec"], "alignment" | "side" | "use">;
  Half: Pick<Schemas["Half"], "fill" | "floors" | "kerbs" | "ladder">;
  Hold: Pick<Schemas["Hold"], "kind">;
  Imported: Pick<Schemas["Imported"], "by">;
  Inset: Pick<Schemas["Inset"], "border" | "height" | "opaque" | "sheet" | "width" | "x" | "y">;
  IntersectionPoint: Pick<Schemas["IntersectionPoint"], "radius" | "transition_in" | "transition_out">;
  Inward: Pick<Schemas["Inward"], "kind">;
  ItemChange: Pick<Schemas["ItemChange"], "road">;
  KerbPlacement: Pick<Schemas["KerbPlacement"], "turned">;
  KerbProfile: Pick<Schemas["KerbProfile"], "backing_height_mm" | "backing_width_mm" | "bed_behind_mm" | "bed_mm" | "source">;
  KerbToKerb: Pick<Schemas["KerbToKerb"], "kind" | "plus" | "side">;
  LayBy: Pick<Schemas["LayBy"], "extra" | "kind" | "parallel" | "taper_in" | "taper_out">;
  LayerRule: Pick<Schemas["LayerRule"], "code" | "counts" | "take">;
  Leave: Pick<Schemas["Leave"], "kind">;
  LeftProblems: Pick<Schemas["LeftProblems"], "rows">;
  LevelChange: Pick<Schemas["LevelChange"], "road">;
  LevelLie: Pick<Schemas["LevelLie"], "kind">;
  LevelRow: Pick<Schemas["LevelRow"], "pinned">;
  LevelTable: Pick<Schemas["LevelTable"], "rows">;
  LevelTableGoverns: Pick<Schemas["LevelTableGoverns"], "kind">;
  LimitRate: Pick<Schemas["LimitRate"], "kind" | "pct_per_s" | "speed_kmh">;
  LineGoverns: Pick<Schemas["LineGoverns"], "kind" | "plus">;
  LineGroup: Pick<Schemas["LineGroup"], "levels_at" | "lines" | "marked_codes" | "marked_guides" | "road" | "widths">;
  LineSplit: Pick<Schemas["LineSplit"], "by">;
  LineThrough: Pick<Schemas["LineThrough"], "by">;
  LinesJoined: Pick<Schemas["LinesJoined"], "by">;
  LongRow: Pick<Schemas["LongRow"], "title">;
  LongSheets: Pick<Schemas["LongSheets"], "bands" | "interval" | "kind" | "plan" | "rows" | "scale" | "structures" | "vertical_scale">;
  MakeUp: Pick<Schemas["MakeUp"], "bottom" | "measured">;
  Mark: Pick<Schemas["Mark"], "plus">;
  Match: Pick<Schemas["Match"], "end" | "kind" | "over" | "to">;
  MatchNeighbour: Pick<Schemas["MatchNeighbour"], "kind" | "which">;
  Material: Pick<Schemas["Material"], "pattern">;
  MeanLevel: Pick<Schemas["MeanLevel"], "kind" | "length">;
  MeasuredCrossfall: Pick<Schemas["MeasuredCrossfall"], "by">;
  MedianBeyond: Pick<Schemas["MedianBeyond"], "kind">;
  MedianShape: Pick<Schemas["MedianShape"], "least_width">;
  MillingPlan: Pick<Schemas["MillingPlan"], "stretches">;
  MillingStretch: Pick<Schemas["MillingStretch"], "full_at">;
  NearestLine: Pick<Schemas["NearestLine"], "by" | "within">;
  NoLess: Pick<Schemas["NoLess"], "by">;
  NoMore: Pick<Schemas["NoMore"], "by">;
  OfRoad: Pick<Schemas["OfRoad"], "beyond" | "by" | "line">;
  OnGuide: Pick<Schemas["OnGuide"], "by">;
  OnLine: Pick<Schemas["OnLine"], "kind" | "plus">;
  OnLineAndParts: Pick<Schemas["OnLineAndParts"], "by" | "only_pieces" | "parts">;
  OnSurface: Pick<Schemas["OnSurface"], "kind" | "plus" | "surface">;
  OneValue: Pick<Schemas["OneValue"], "kind" | "pct">;
  Onto: Pick<Schemas["Onto"], "kind">;
  Overlay: Pick<Schemas["Overlay"], "governs" | "hinge" | "kind" | "least_cover_mm" | "least_new_width" | "least_upstand_mm" | "left_crossfall" | "left_edge" | "look_again_mm" | "reach" | "right_crossfall" | "right_edge" | "saw_cut">;
  OwnFall: Pick<Schemas["OwnFall"], "kind">;
  OwnRoad: Pick<Schemas["OwnRoad"], "angle_deg" | "length" | "radius">;
  Parallel: Pick<Schemas["Parallel"], "kind">;
  ParallelLie: Pick<Schemas["ParallelLie"], "kind">;
  PartWay: Pick<Schemas["PartWay"], "kind" | "pct">;
  PayItem: Pick<Schemas["PayItem"], "material" | "number" | "rate" | "unit">;
  Pieces: Pick<Schemas["Pieces"], "by">;
  Pipe: Pick<Schemas["Pipe"], "diameter_mm">;
  Pit: Pick<Schemas["Pit"], "size_mm">;
  PlanSheets: Pick<Schemas["PlanSheets"], "background" | "beside" | "depths" | "grid" | "interval" | "kind" | "scale" | "sections" | "structures" | "survey">;
  Plane: Pick<Schemas["Plane"], "by">;
  Point: Pick<Schemas["Point"], "on_sheets">;
  PointEdit: Pick<Schemas["PointEdit"], "by">;
  ProfileGoverns: Pick<Schemas["ProfileGoverns"], "about" | "kind" | "normal_pct">;
  ProfilePoint: Pick<Schemas["ProfilePoint"], "length_in" | "length_out">;
  ProfileSpec: Pick<Schemas["ProfileSpec"], "alignment" | "name">;
  PutAt: Pick<Schemas["PutAt"], "keep" | "kind">;
  PutAtCrossing: Pick<Schemas["PutAtCrossing"], "kind">;
  PutByGrade: Pick<Schemas["PutByGrade"], "kind" | "way">;
  PutByGrades: Pick<Schemas["PutByGrades"], "after" | "kind">;
  Raise: Pick<Schemas["Raise"], "by_mm" | "kind">;
  RaiseToCover: Pick<Schemas["RaiseToCover"], "kind">;
  Reconstruct: Pick<Schemas["Reconstruct"], "hinge" | "kind" | "left_crossfall" | "left_edge" | "right_crossfall" | "right_edge">;
  RegisterSheets: Pick<Schemas["RegisterSheets"], "kind">;
  Regular: Pick<Schemas["Regular"], "chord_limit_mm" | "interval" | "key_points" | "kind" | "name" | "remark">;
  RemarkList: Pick<Schemas["RemarkList"], "remarks">;
  Remove: Pick<Schemas["Remove"], "kind">;
  RemoveRedundant: Pick<Schemas["RemoveRedundant"], "kind" | "tolerance_mm">;
  ReportColumn: Pick<Schemas["ReportColumn"], "heading">;
  ReportLayout: Pick<Schemas["ReportLayout"], "columns" | "items" | "name" | "of" | "pay_items" | "points" | "totals">;
  Rise: Pick<Schemas["Rise"], "kind">;
  RiseToSurface: Pick<Schemas["RiseToSurface"], "kind" | "one_in">;
  RoadSpec: Pick<Schemas["RoadSpec"], "alignment" | "beside" | "name" | "place">;
  Run: Pick<Schemas["Run"], "fall_pct" | "kind">;
  RunToSlope: Pick<Schemas["RunToSlope"], "kind">;
  Rung: Pick<Schemas["Rung"], "clearance" | "inside_boundary" | "least_height">;
  RunningMean: Pick<Schemas["RunningMean"], "kind" | "length">;
  SameAs: Pick<Schemas["SameAs"], "kind">;
  ScheduleSheets: Pick<Schemas["ScheduleSheets"], "kind" | "report">;
  SectionRow: Pick<Schemas["SectionRow"], "of" | "title">;
  SectionSettings: Pick<Schemas["SectionSettings"], "chord_limit_mm" | "curvature_correction" | "depth_bands_mm" | "design_speed_kmh" | "extra" | "interval" | "key_points" | "left" | "right">;
  SectionSheets: Pick<Schemas["SectionSheets"], "areas" | "beyond" | "boundary" | "depths" | "falls" | "hatching" | "hinge" | "kind" | "letters" | "offsets" | "packing" | "points" | "prefix" | "remarks" | "rows" | "scale" | "suffix" | "surfaces" | "vertical_scale" | "widths">;
  SetCurves: Pick<Schemas["SetCurves"], "by" | "kind" | "value">;
  Shift: Pick<Schemas["Shift"], "chainage_by" | "kind" | "level_by">;
  SideRoad: Pick<Schemas["SideRoad"], "length" | "notch_mm">;
  Square: Pick<Schemas["Square"], "kind">;
  Standards: Pick<Schemas["Standards"], "least_cover_over_pipes" | "least_resultant_pct" | "steepest_pct">;
  Step: Pick<Schemas["Step"], "kind">;
  Straight: Pick<Schemas["Straight"], "kind">;
  StraightBetween: Pick<Schemas["StraightBetween"], "kind">;
  StraightGrade: Pick<Schemas["StraightGrade"], "kind">;
  Structures: Pick<Schemas["Structures"], "pipes" | "pits">;
  Superelevate: Pick<Schemas["Superelevate"], "kind" | "lanes" | "most_pct" | "normal_pct" | "speed_kmh" | "width">;
  SuperelevationStandard: Pick<Schemas["SuperelevationStandard"], "lane_factor">;
  SurfaceLine: Pick<Schemas["SurfaceLine"], "colour" | "line" | "name" | "of" | "width">;
  SurfaceSpec: Pick<Schemas["SurfaceSpec"], "name" | "source">;
  SurveyInUse: Pick<Schemas["SurveyInUse"], "beside" | "edits" | "system" | "unit">;
  TakeMeasured: Pick<Schemas["TakeMeasured"], "at" | "interval" | "kind">;
  Taper: Pick<Schemas["Taper"], "kind" | "shape">;
  TemplatePlan: Pick<Schemas["TemplatePlan"], "ranges">;
  TemplateRange: Pick<Schemas["TemplateRange"], "dimensions" | "transition">;
  TemplateSpec: Pick<Schemas["TemplateSpec"], "dimensions">;
  Thinning: Pick<Schemas["Thinning"], "doubtful" | "keep" | "square">;
  ThreeCentred: Pick<Schemas["ThreeCentred"], "first_deg" | "first_times" | "last_deg" | "last_times">;
  ThroughIps: Pick<Schemas["ThroughIps"], "by">;
  ThroughPoint: Pick<Schemas["ThroughPoint"], "by">;
  TitleBlock: Pick<Schemas["TitleBlock"], "approved" | "checked" | "client" | "contract" | "coordinates" | "drawn" | "files" | "levels" | "logo" | "notes" | "numbering" | "owner" | "project">;
  ToBoundary: Pick<Schemas["ToBoundary"], "by" | "most">;
  ToGround: Pick<Schemas["ToGround"], "kind" | "most_width">;
  ToLine: Pick<Schemas["ToLine"], "by" | "otherwise" | "plus">;
  ToMiddle: Pick<Schemas["ToMiddle"], "by">;
  ToSlope: Pick<Schemas["ToSlope"], "kind">;
  ToeDrain: Pick<Schemas["ToeDrain"], "bottom" | "depth" | "kind" | "most_width" | "one_in">;
  TreatmentPlan: Pick<Schemas["TreatmentPlan"], "ranges">;
  Trial: Pick<Schemas["Trial"], "dimensions" | "followed" | "ground" | "left_pct" | "right_pct" | "thorough">;
  TypicalSheets: Pick<Schemas["TypicalSheets"], "kind" | "scale">;
  UnderKerb: Pick<Schemas["UnderKerb"], "behind" | "kind">;
  VDrain: Pick<Schemas["VDrain"], "depth" | "inner_one_in" | "kind" | "outer_one_in">;
  VariantPlan: Pick<Schemas["VariantPlan"], "price" | "variants">;
  VerticalStandard: Pick<Schemas["VerticalStandard"], "deceleration" | "reaction">;
  Wall: Pick<Schemas["Wall"], "kind">;
  Widening: Pick<Schemas["Widening"], "kind" | "taper_in" | "taper_out">;
  WideningRule: Pick<Schemas["WideningRule"], "design_speed_kmh" | "lane_width" | "lanes" | "standard" | "vehicle">;
  WiderBy: Pick<Schemas["WiderBy"], "by">;
  WiderOnCurves: Pick<Schemas["WiderOnCurves"], "before" | "by" | "rule" | "run" | "share_inside" | "share_outside">;
  Width: Pick<Schemas["Width"], "kind">;
  WidthTable: Pick<Schemas["WidthTable"], "by">;
  Zone: Pick<Schemas["Zone"], "joins" | "lie">;
}

export const DEFAULTS: Defaults = {
  AdoptedCrossfall: {"by": "table"},
  AfterLength: {"by": "length"},
  AlignmentFound: {"profiles": []},
  AlignmentSpec: {"equations": [], "name": "Alignment", "start_chainage": 0.0},
  AlongPath: {"kind": "path", "name": "", "remark": ""},
  Arc: {"kind": "arc"},
  At: {"angle_deg": 0.0, "kind": "at", "name": "", "remark": ""},
  AtChainage: {"by": "chainage"},
  AtOffset: {"by": "offset"},
  AtPoint: {"beyond": 0.0, "by": "point"},
  AtStructure: {"kind": "structure", "name": "", "remark": ""},
  AuxiliaryLane: {"extra": 3.5, "kind": "auxiliary_lane", "taper_one_in": 15.0},
  Batter: {"kind": "batter", "one_in": 1.0},
  Benched: {"bench_fall_pct": -4.0, "bench_width": 2.0, "height": 5.0, "kind": "benched", "most_width": 40.0},
  Beside: {"background": false, "on": true},
  Between: {"kind": "run", "name": "", "past": 3.0, "remark": ""},
  BlockRule: {"code": "", "level": "", "number": "", "point": true},
  BusBay: {"entry_one_in": 5.0, "exit_one_in": 3.0, "extra": 3.0, "kind": "bus_bay", "stop": 15.0},
  ByChainage: {"by": "chainage"},
  ByDistances: {"by": "distances"},
  ByRatio: {"by": "ratio"},
  Carried: {"kind": "carried", "surface": "main"},
  CarryOn: {"kind": "carry"},
  ChangedFigure: {"road": ""},
  Clothoid: {"kind": "clothoid"},
  Coat: {"rate": 0.3},
  CodeGrammar: {"along": false, "before": false, "between": " ", "controls": [], "figures": true, "longest": 60.0, "marks": "", "points": [], "remark": ""},
  CodeList: {"rules": []},
  CodeRule: {"breakline": true, "colour": "#9AA5A6", "crossing": "later", "dashed": false, "in_surface": true, "meaning": "other", "width": 0.8},
  ColumnMapping: {"along": "no", "breaks": [], "decimal": ".", "delimiter": ",", "header": true, "sheet": "", "skip": 0, "unit": "metre"},
  CompareWith: {"after": 0},
  CopySide: {"kind": "copy", "opposite": false},
  CornerCurve: {"beyond": 0.0, "by": "corner", "line": "right_edge", "radius": 8.0},
  Course: {"inner": {"kind": "flush"}, "outer": {"kind": "flush"}},
  CoverGoverns: {"kind": "cover"},
  Credentials: {"code": ""},
  CrossfallTable: {"rows": []},
  CurveThrough: {"kind": "curve_through"},
  CurveWidening: {"before": 0.67, "by": "curves", "rule": {"design_speed_kmh": 60.0, "lane_width": 3.5, "lanes": 2, "standard": "vehicle", "vehicle": "WB15"}, "run": 30.0, "share_inside": 1.0, "share_outside": 0.0},
  Dimension: {"unit": "m"},
  DownTo: {"kind": "down_to", "surface": "main"},
  Drawing: {"chainages": [], "every": 1, "insets": [], "name": "Cross-sections {from} to {to}", "number": "XS", "place": 0, "road": "main", "style": "sections_a3", "templates": [], "untreated": true},
  DrawingMapping: {"blocks": [], "layers": [], "swapped": false, "texts": false, "zero": "guess"},
  DrawingStyle: {"legend": true, "name": "Sections A3", "paper": "A3", "sheets": {"areas": false, "beyond": 1.5, "boundary": true, "depths": false, "falls": "percent", "hatching": false, "hinge": true, "kind": "sections", "letters": false, "offsets": [], "packing": "columns", "points": "template", "prefix": "", "remarks": true, "rows": [{"decimals": null, "height": null, "kind": "offset", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "existing", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "design", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "difference", "lettering": null, "of": "", "title": ""}], "scale": 100, "suffix": "", "surfaces": [{"colour": "#5D6B6F", "line": "solid", "name": "", "of": "existing", "width": 0.25}, {"colour": "#5D6B6F", "line": "dashed", "name": "", "of": "milled", "width": 0.25}, {"colour": "#1B2327", "line": "solid", "name": "", "of": "design", "width": 0.5}], "vertical_scale": 100, "widths": false}, "text_height": 1.8},
  DrawnLine: {"by": "polyline"},
  Drive: {"kind": "drive"},
  DriveTable: {"drive_length": 3.0, "field_length": 6.0, "upstand_mm": 25.0},
  DropWithin: {"kind": "drop", "tolerance_pct": 0.3},
  Ease: {"change_pct": 0.5, "keep_cover": true, "kind": "ease"},
  EdgesGovern: {"kind": "edges"},
  Ends: {"kind": "ends"},
  Fall: {"kind": "fall", "turns_with": "side"},
  FarSide: {"by": "far_side"},
  FitThrough: {"fix_ends": true, "kind": "fit", "spacing": 40.0, "through": "design", "tolerance_mm": 20.0},
  FixedWidth: {"by": "fixed", "left": 20.0, "right": 20.0},
  FlatDrain: {"bottom": 0.5, "depth": 0.5, "inner_one_in": 3.0, "kind": "flat_drain", "outer_one_in": 2.0},
  Floor: {"end": {"kind": "wall"}, "fill": "fill"},
  Flush: {"kind": "flush"},
  Follow: {"kind": "follow"},
  FollowPlan: {"rules": []},
  FollowRule: {"plus": 0.0, "what": "plan"},
  FromDesign: {"kind": "design"},
  FromProfile: {"kind": "profile"},
  FromSurvey: {"by": "survey", "codes": [], "left_out": [], "longest_edge": 60.0},
  GapOpened: {"by": "gap"},
  GivenCrossfall: {"by": "given", "pct": -2.5},
  GuideLevel: {"kind": "guide_level", "plus": 0.0, "rise": 0.0},
  GuideSpec: {"alignment": "main", "side": "right", "use": "edge"},
  Half: {"fill": "fill", "floors": [], "kerbs": [], "ladder": []},
  Hold: {"kind": "hold"},
  Imported: {"by": "imported"},
  Inset: {"border": true, "height": 40.0, "opaque": true, "sheet": 1, "width": 120.0, "x": 5.0, "y": 5.0},
  IntersectionPoint: {"radius": 0.0, "transition_in": 0.0, "transition_out": 0.0},
  Inward: {"kind": "inward"},
  ItemChange: {"road": ""},
  KerbPlacement: {"turned": false},
  KerbProfile: {"backing_height_mm": 0.0, "backing_width_mm": 0.0, "bed_behind_mm": 0.0, "bed_mm": 0.0, "source": ""},
  KerbToKerb: {"kind": "kerb_to_kerb", "plus": 0.0, "side": "left"},
  LayBy: {"extra": 3.0, "kind": "lay_by", "parallel": 30.0, "taper_in": 20.0, "taper_out": 20.0},
  LayerRule: {"code": "", "counts": "code", "take": true},
  Leave: {"kind": "leave"},
  LeftProblems: {"rows": []},
  LevelChange: {"road": ""},
  LevelLie: {"kind": "level"},
  LevelRow: {"pinned": false},
  LevelTable: {"rows": []},
  LevelTableGoverns: {"kind": "level_table"},
  LimitRate: {"kind": "limit_rate", "pct_per_s": 2.5, "speed_kmh": 60.0},
  LineGoverns: {"kind": "line", "plus": 0.0},
  LineGroup: {"levels_at": [], "lines": [], "marked_codes": [], "marked_guides": true, "road": "main", "widths": {"by": "fixed", "left": 20.0, "right": 20.0}},
  LineSplit: {"by": "split"},
  LineThrough: {"by": "line"},
  LinesJoined: {"by": "join"},
  LongRow: {"title": ""},
  LongSheets: {"bands": true, "interval": 20.0, "kind": "long", "plan": false, "rows": [{"decimals": null, "height": null, "kind": "chainage", "lettering": null, "title": ""}, {"decimals": null, "height": null, "kind": "existing", "lettering": null, "title": ""}, {"decimals": null, "height": null, "kind": "design", "lettering": null, "title": ""}, {"decimals": null, "height": null, "kind": "difference", "lettering": null, "title": ""}], "scale": 1000, "structures": true, "vertical_scale": 100},
  MakeUp: {"bottom": {"kind": "parallel"}, "measured": "vertical"},
  Mark: {"plus": 0.0},
  Match: {"end": "begin", "kind": "match", "over": 30.0, "to": "existing"},
  MatchNeighbour: {"kind": "match", "which": "before"},
  Material: {"pattern": "plain"},
  MeanLevel: {"kind": "mean", "length": 30.0},
  MeasuredCrossfall: {"by": "measured"},
  MedianBeyond: {"kind": "median"},
  MedianShape: {"least_width": 0.0},
  MillingPlan: {"stretches": []},
  MillingStretch: {"full_at": "both"},
  NearestLine: {"by": "line", "within": 12.0},
  NoLess: {"by": "no_less"},
  NoMore: {"by": "no_more"},
  OfRoad: {"beyond": 0.0, "by": "road", "line": "left_edge"},
  OnGuide: {"by": "guide"},
  OnLine: {"kind": "on_line", "plus": 0.0},
  OnLineAndParts: {"by": "parts", "only_pieces": false, "parts": []},
  OnSurface: {"kind": "on_surface", "plus": 0.0, "surface": "main"},
  OneValue: {"kind": "one_value", "pct": -2.5},
  Onto: {"kind": "onto"},
  Overlay: {"governs": {"kind": "cover"}, "hinge": {"by": "offset", "offset": 0.0}, "kind": "overlay", "least_cover_mm": 50.0, "least_new_width": 0.3, "least_upstand_mm": 75.0, "left_crossfall": {"by": "given", "pct": -2.5}, "left_edge": {"by": "offset", "offset": -3.5}, "look_again_mm": 150.0, "reach": "at_least_edge", "right_crossfall": {"by": "given", "pct": -2.5}, "right_edge": {"by": "offset", "offset": 3.5}, "saw_cut": 0.0},
  OwnFall: {"kind": "fall"},
  OwnRoad: {"angle_deg": 0.0, "length": 20.0, "radius": 6.0},
  Parallel: {"kind": "parallel"},
  ParallelLie: {"kind": "parallel"},
  PartWay: {"kind": "part_way", "pct": 50.0},
  PayItem: {"material": "", "number": "", "rate": 0.0, "unit": "m3"},
  Pieces: {"by": "pieces"},
  Pipe: {"diameter_mm": 300.0},
  Pit: {"size_mm": 600.0},
  PlanSheets: {"background": true, "beside": 25.0, "depths": true, "grid": true, "interval": 20.0, "kind": "plan", "scale": 500, "sections": true, "structures": true, "survey": true},
  Plane: {"by": "plane"},
  Point: {"on_sheets": "name"},
  PointEdit: {"by": "point"},
  ProfileGoverns: {"about": "hinge", "kind": "profile", "normal_pct": -2.5},
  ProfilePoint: {"length_in": 0.0, "length_out": 0.0},
  ProfileSpec: {"alignment": "main", "name": "Profile"},
  PutAt: {"keep": "length", "kind": "at"},
  PutAtCrossing: {"kind": "crossing"},
  PutByGrade: {"kind": "by_grade", "way": "in"},
  PutByGrades: {"after": 0, "kind": "by_grades"},
  Raise: {"by_mm": 10.0, "kind": "raise"},
  RaiseToCover: {"kind": "cover"},
  Reconstruct: {"hinge": {"by": "offset", "offset": 0.0}, "kind": "reconstruct", "left_crossfall": {"by": "given", "pct": -2.5}, "left_edge": {"by": "offset", "offset": -3.5}, "right_crossfall": {"by": "given", "pct": -2.5}, "right_edge": {"by": "offset", "offset": 3.5}},
  RegisterSheets: {"kind": "register"},
  Regular: {"chord_limit_mm": 0.0, "interval": 20.0, "key_points": false, "kind": "regular", "name": "", "remark": ""},
  RemarkList: {"remarks": []},
  Remove: {"kind": "remove"},
  RemoveRedundant: {"kind": "redundant", "tolerance_mm": 1.0},
  ReportColumn: {"heading": ""},
  ReportLayout: {"columns": [{"decimals": null, "field": "treatment", "heading": ""}, {"decimals": null, "field": "from", "heading": ""}, {"decimals": null, "field": "to", "heading": ""}, {"decimals": null, "field": "item", "heading": ""}, {"decimals": null, "field": "material", "heading": ""}, {"decimals": null, "field": "volume", "heading": ""}, {"decimals": null, "field": "mass", "heading": ""}], "items": [], "name": "Layer quantities", "of": "treatments", "pay_items": [], "points": [], "totals": true},
  Rise: {"kind": "rise"},
  RiseToSurface: {"kind": "rise", "one_in": 1.0},
  RoadSpec: {"alignment": "main", "beside": [], "name": "Main road", "place": 0},
  Run: {"fall_pct": -4.0, "kind": "run"},
  RunToSlope: {"kind": "run"},
  Rung: {"clearance": 0.0, "inside_boundary": false, "least_height": 0.0},
  RunningMean: {"kind": "mean", "length": 50.0},
  SameAs: {"kind": "same_as"},
  ScheduleSheets: {"kind": "schedule", "report": "layers"},
  SectionRow: {"of": "", "title": ""},
  SectionSettings: {"chord_limit_mm": 0.0, "curvature_correction": true, "depth_bands_mm": [50, 60, 75, 100, 150], "design_speed_kmh": 60.0, "extra": [], "interval": 10.0, "key_points": true, "left": -25.0, "right": 25.0},
  SectionSheets: {"areas": false, "beyond": 1.5, "boundary": true, "depths": false, "falls": "percent", "hatching": false, "hinge": true, "kind": "sections", "letters": false, "offsets": [], "packing": "columns", "points": "template", "prefix": "", "remarks": true, "rows": [{"decimals": null, "height": null, "kind": "offset", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "existing", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "design", "lettering": null, "of": "", "title": ""}, {"decimals": null, "height": null, "kind": "difference", "lettering": null, "of": "", "title": ""}], "scale": 100, "suffix": "", "surfaces": [{"colour": "#5D6B6F", "line": "solid", "name": "", "of": "existing", "width": 0.25}, {"colour": "#5D6B6F", "line": "dashed", "name": "", "of": "milled", "width": 0.25}, {"colour": "#1B2327", "line": "solid", "name": "", "of": "design", "width": 0.5}], "vertical_scale": 100, "widths": false},
  SetCurves: {"by": "length", "kind": "curves", "value": 0.0},
  Shift: {"chainage_by": 0.0, "kind": "shift", "level_by": 0.0},
  SideRoad: {"length": 10.0, "notch_mm": 0.0},
  Square: {"kind": "square"},
  Standards: {"least_cover_over_pipes": 0.6, "least_resultant_pct": 0.5, "steepest_pct": 7.0},
  Step: {"kind": "step"},
  Straight: {"kind": "straight"},
  StraightBetween: {"kind": "straight"},
  StraightGrade: {"kind": "straight"},
  Structures: {"pipes": [], "pits": []},
  Superelevate: {"kind": "superelevate", "lanes": 1.0, "most_pct": 6.0, "normal_pct": 2.5, "speed_kmh": 60.0, "width": 3.5},
  SuperelevationStandard: {"lane_factor": false},
  SurfaceLine: {"colour": "#5D6B6F", "line": "solid", "name": "", "of": "other", "width": 0.25},
  SurfaceSpec: {"name": "Existing", "source": {"boundary": null, "by": "survey", "codes": [], "left_out": [], "longest_edge": 60.0}},
  SurveyInUse: {"beside": [], "edits": [], "system": "", "unit": "metre"},
  TakeMeasured: {"at": "sections", "interval": 20.0, "kind": "measured"},
  Taper: {"kind": "taper", "shape": "straight"},
  TemplatePlan: {"ranges": []},
  TemplateRange: {"dimensions": {}, "transition": 0.0},
  TemplateSpec: {"dimensions": []},
  Thinning: {"doubtful": false, "keep": "lowest", "square": 0.5},
  ThreeCentred: {"first_deg": 15.75, "first_times": 2.0, "last_deg": 20.25, "last_times": 3.0},
  ThroughIps: {"by": "ips"},
  ThroughPoint: {"by": "point"},
  TitleBlock: {"approved": "", "checked": "", "client": "", "contract": "", "coordinates": "", "drawn": "", "files": "{number} rev {revision}", "levels": "", "logo": "", "notes": "", "numbering": "{number}-{n}", "owner": "", "project": ""},
  ToBoundary: {"by": "boundary", "most": 100.0},
  ToGround: {"kind": "to_ground", "most_width": 25.0},
  ToLine: {"by": "line", "otherwise": 20.0, "plus": 2.0},
  ToMiddle: {"by": "middle"},
  ToSlope: {"kind": "to_slope"},
  ToeDrain: {"bottom": 0.5, "depth": 0.3, "kind": "toe_drain", "most_width": 25.0, "one_in": 2.0},
  TreatmentPlan: {"ranges": []},
  Trial: {"dimensions": {}, "followed": [], "ground": [[-30.0, -1.0], [30.0, -1.0]], "left_pct": -2.5, "right_pct": -2.5, "thorough": false},
  TypicalSheets: {"kind": "typical", "scale": 50},
  UnderKerb: {"behind": 0.0, "kind": "under_kerb"},
  VDrain: {"depth": 0.5, "inner_one_in": 3.0, "kind": "v_drain", "outer_one_in": 2.0},
  VariantPlan: {"price": 0.0, "variants": []},
  VerticalStandard: {"deceleration": 0.36, "reaction": 2.5},
  Wall: {"kind": "wall"},
  Widening: {"kind": "widening", "taper_in": 20.0, "taper_out": 20.0},
  WideningRule: {"design_speed_kmh": 60.0, "lane_width": 3.5, "lanes": 2, "standard": "vehicle", "vehicle": "WB15"},
  WiderBy: {"by": "width"},
  WiderOnCurves: {"before": 0.67, "by": "on_curves", "rule": {"design_speed_kmh": 60.0, "lane_width": 3.5, "lanes": 2, "standard": "vehicle", "vehicle": "WB15"}, "run": 30.0, "share_inside": 1.0, "share_outside": 0.0},
  Width: {"kind": "width"},
  WidthTable: {"by": "table"},
  Zone: {"joins": "cross", "lie": {"kind": "parallel"}},
};
