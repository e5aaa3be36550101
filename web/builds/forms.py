"""Small forms of the list of builds."""

from django import forms

from web.builds.fields import LineField, NumberField


class NewBuildForm(forms.Form):
    name = LineField(max_length=80)
    creation_key = forms.UUIDField(widget=forms.HiddenInput)


class CopyForm(forms.Form):
    creation_key = forms.UUIDField()


class RenameForm(forms.Form):
    name = LineField(max_length=80)


class StandsForm(forms.Form):
    stands = NumberField(-90, 90, required=False)


class ImportForm(forms.Form):
    brief = forms.FileField(
        label="Brief file (JSON)", error_messages={"required": "Choose a brief file.", "empty": "The brief file is empty."}
    )
    weather = forms.FileField(label="Weather file, if the brief names one", required=False)
    use = forms.FileField(label="File of the use, if it names one", required=False)
    creation_key = forms.UUIDField(widget=forms.HiddenInput)
