"""Archives (ZIP) that files come in, looked at before anything of them is unpacked."""

import io
import zipfile

from saddle.errors import ImportProblem

#: How they begin.
BEGINNING = b"PK\x03\x04"
#: One is packed no tighter than this; a small one may be, up to so many bytes; none is larger unpacked than the last.
TIGHTEST, LOOSE, MOST_BYTES = 100, 5_000_000, 300_000_000


def is_archive(data: bytes) -> bool:
    """Whether a file begins as one."""
    return data.startswith(BEGINNING)


def names_in(data: bytes) -> list[str]:
    """What an archive holds, nothing where it is none. Raises ImportProblem for one that would be far larger unpacked than such files
    are."""
    if not is_archive(data):
        return []
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            inside = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError) as error:
        raise ImportProblem(
            "this is not a workbook or an archive, or it is damaged", "file", "save it again as XLSX, ODS or ZIP"
        ) from error
    size = sum(info.file_size for info in inside)
    if size > min(MOST_BYTES, LOOSE + TIGHTEST * len(data)):
        raise ImportProblem(
            f"the file would be {size // 1_000_000:,} MB unpacked, which is too large", "file",
            "keep only what is needed of it, a workbook as CSV",
        )  # fmt: skip
    return [info.filename for info in inside]
