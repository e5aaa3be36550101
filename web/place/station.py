"""The place plugs in."""

from web.builds.registry import Station, Step, register
from web.place.demo import DEMO
from web.place.forms import PlaceForm, PlaceStep
from web.place.models import Place

register(
    Station(
        key="place",
        title="The place",
        question="Where does it stand, under what sky?",
        order=10,
        group="plan",
        urls="web.place.urls",
        form=PlaceForm,
        parts=(Place,),
        steps=(
            Step(
                "place",
                "Place",
                10,
                PlaceStep,
                "Where will it stand, and under what sky?",
                "Coordinates are enough for a first look: paste them as any map gives them. A file or twelve numbers make the sky yours.",
                wide=("ghi", "weather_file", "where"),
                when={"sky_name": "sky_kind=made-up", "ghi": "sky_kind=monthly", "weather_file": "sky_kind=file"},
            ),
        ),
        scripts=("js/twelve.js",),
        demo=DEMO,
    )
)
