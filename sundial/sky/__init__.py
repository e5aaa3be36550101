"""The sky of a site: five sources, one shape (:class:`~sundial.sky.weather_year.WeatherYear`)."""
