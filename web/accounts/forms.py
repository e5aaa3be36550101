"""Forms of the account pages."""

from django import forms
from django.contrib.auth.forms import UserCreationForm

from web.accounts.demo import NAME


class SignUpForm(UserCreationForm):
    """A name and a password; nothing else is asked."""

    class Meta(UserCreationForm.Meta):
        fields = ("username",)

    def clean_username(self) -> str:
        name = super().clean_username()
        if name is None:  # taken: said beside the field already
            return ""
        if name.lower() == NAME:
            raise forms.ValidationError("That name is taken.")
        return name


class LeaveForm(forms.Form):
    word = forms.RegexField(
        r"^\s*delete\s*$", label="Type the word delete", error_messages={"invalid": "Type the word delete to go on."}
    )
