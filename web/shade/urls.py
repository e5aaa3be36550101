from django.urls import path

from web.shade import pictures, tries, views

app_name = "shade"
urlpatterns = [
    path("", views.ShadeStation.as_view(), name="station"),
    path("day/", views.DayFrames.as_view(), name="day"),
    path("figures/", tries.Figures.as_view(), name="figures"),
    path("what-if/", tries.WhatIf.as_view(), name="what-if"),
    path("prices/", views.Prices.as_view(), name="prices"),
    path("pitch/", views.Pitch.as_view(), name="pitch"),
    path("map/", tries.Map.as_view(), name="map"),
    path("spots/", tries.Spots.as_view(), name="spots"),
    path("measure/", tries.Measure.as_view(), name="measure"),
    path("field/", views.Field.as_view(), name="field"),
    path("open-sky/", views.OpenSky.as_view(), name="open-sky"),
    path("picture/", pictures.YardPicture.as_view(), name="picture"),
    path("skyline.csv", views.SkylineFile.as_view(), name="skyline"),
    path("yard.geojson", views.YardFile.as_view(), name="geojson"),
]
