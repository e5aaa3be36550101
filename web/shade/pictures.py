"""The person's own picture under the plan of the yard."""

from __future__ import annotations

import struct

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views import View

from web.builds.shell import SignedIn, own_build
from web.shade.models import Picture

LARGEST = 6_000_000  # bytes
WIDEST = 12_000  # px
STARTS = {b"\x89PNG\r\n\x1a\n": "image/png", b"\xff\xd8\xff": "image/jpeg"}


def size_of(data: bytes) -> tuple[str, int, int] | None:
    """Kind, width and height in px of a PNG or JPEG picture, from its first bytes; None where it is neither."""
    kind = next((kind for start, kind in STARTS.items() if data.startswith(start)), None)
    try:
        if kind == "image/png":
            return kind, *struct.unpack(">II", data[16:24])
        return (kind, *_jpeg_size(data)) if kind else None
    except (struct.error, IndexError):
        return None


def _jpeg_size(data: bytes) -> tuple[int, int]:
    at = 2
    while True:
        if data[at] != 0xFF:
            raise IndexError
        marker, length = data[at + 1], int.from_bytes(data[at + 2 : at + 4], "big")
        if 0xC0 <= marker <= 0xCF and marker not in (0xC4, 0xC8, 0xCC):
            height, width = struct.unpack(">HH", data[at + 5 : at + 9])
            return width, height
        at += 2 + length


class YardPicture(SignedIn, View):
    """Show, take or drop the picture."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        picture = Picture.objects.filter(yard__build=own_build(request, pk)).first()
        if picture is None:
            raise Http404
        response = HttpResponse(bytes(picture.data), content_type=picture.kind)
        response["Cache-Control"] = "private, max-age=600"
        return response

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if request.POST.get("drop"):
            Picture.objects.filter(yard=build.yard).delete()
            return JsonResponse({"dropped": True})
        upload = request.FILES.get("file")
        if upload is None:
            return JsonResponse({"error": "Choose a picture first."}, status=422)
        if upload.size > LARGEST:  # type: ignore[operator]
            return JsonResponse(
                {"error": f"That picture has {upload.size / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most."},  # type: ignore[operator]
                status=422,
            )
        data = upload.read()
        found = size_of(data)
        if found is None or not (0 < found[1] <= WIDEST and 0 < found[2] <= WIDEST):
            return JsonResponse({"error": "Choose a PNG or JPEG picture."}, status=422)
        kind, width, height = found
        Picture.objects.update_or_create(yard=build.yard, defaults={"kind": kind, "width": width, "height": height, "data": data})
        return JsonResponse({"width": width, "height": height})
