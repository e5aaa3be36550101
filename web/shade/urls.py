from django.urls import path

from web.shade import pictures, views, whatif

urlpatterns = [
    path("", views.ShadeStation.as_view(), name="station"),
    path("day/", views.DayFrames.as_view(), name="day"),
    path("figures/", whatif.Figures.as_view(), name="figures"),
    path("what-if/", whatif.WhatIf.as_view(), name="what-if"),
    path("prices/", views.Prices.as_view(), name="prices"),
    path("pitch/", views.Pitch.as_view(), name="pitch"),
    path("map/", whatif.Map.as_view(), name="map"),
    path("spots/", whatif.Spots.as_view(), name="spots"),
    path("measure/", whatif.Measure.as_view(), name="measure"),
    path("field/", views.Field.as_view(), name="field"),
    path("picture/", pictures.YardPicture.as_view(), name="picture"),
    path("picture/state/", pictures.PictureState.as_view(), name="picture-state"),
    path("skyline.csv", views.SkylineFile.as_view(), name="skyline"),
    path("yard.geojson", views.YardFile.as_view(), name="geojson"),
]
