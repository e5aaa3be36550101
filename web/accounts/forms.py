"""Forms of the account pages."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth.forms import BaseUserCreationForm, SetPasswordForm, UsernameField
from django.contrib.auth.models import User

from web.accounts.demo import is_reserved
from web.accounts.models import THINK_IN, Account
from web.accounts.names import name_key


class SignUpForm(BaseUserCreationForm):
    """A name and a password; a mail address only for who wants to get back in by mail."""

    email = forms.EmailField(
        label="Mail address, if you like",
        required=False,
        max_length=200,
        help_text="Only for a link when the password is forgotten. Without one there is the recovery code.",
    )

    units = forms.ChoiceField(
        label="You think in",
        choices=[("", "as people do where a build stands"), *THINK_IN],
        required=False,
        help_text="New builds begin so; each can be shown either way, and both are understood in every field.",
    )

    class Meta(BaseUserCreationForm.Meta):
        fields = ("username", "email")

    def save(self, commit: bool = True) -> User:
        user: User = super().save(commit)
        if commit:
            Account.objects.filter(user=user).update(units=self.cleaned_data["units"])
        return user

    def clean_username(self) -> str:
        name: str = self.cleaned_data["username"]
        key = name_key(name)
        if is_reserved(key) or Account.objects.filter(name_key=key).exists():
            raise forms.ValidationError("That name is taken.")
        return name


class UnitsForm(forms.ModelForm):
    """In which units new builds begin."""

    class Meta:
        model = Account
        fields = ("units",)
        labels = {"units": "New builds begin in"}  # noqa: RUF012  (as Django declares it)


class PasswordAgain(forms.Form):
    """The password once more, before what would let somebody else in for good. ``user``: whose it is."""

    password = forms.CharField(
        label="Your password, once more",
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}),
        max_length=128,
        strip=False,
    )

    def __init__(self, *args: Any, user: User, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.owner = user

    def clean_password(self) -> str:
        word: str = self.cleaned_data["password"]
        if not self.owner.check_password(word):
            raise forms.ValidationError("This is not your password.")
        return word


class MailForm(PasswordAgain, forms.ModelForm):
    """The mail address, given, changed or taken away."""

    email = forms.EmailField(label="Mail address", required=False, max_length=200)
    field_order = ("email", "password")

    class Meta:
        model = User
        fields = ("email",)


class LeaveForm(forms.Form):
    word = forms.RegexField(
        r"^\s*delete\s*$", label="Type the word delete", error_messages={"invalid": "Type the word delete to go on."}
    )


class CodeForm(SetPasswordForm):
    """A new password against the recovery code. ``user`` is who the name belongs to, or nobody."""

    username = UsernameField(label="Your name", max_length=150)
    code = forms.CharField(label="Recovery code", max_length=60, help_text="Five groups of four, as shown when it was made.")
    field_order = ("username", "code", "new_password1", "new_password2")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(None, *args, **kwargs)

    def clean(self) -> dict[str, Any]:
        self.user = self.owner() or User()
        return super().clean()  # type: ignore[return-value]

    def owner(self) -> User | None:
        """Who the typed name belongs to."""
        name = self.cleaned_data.get("username", "")
        return User.objects.filter(account__name_key=name_key(name), account__demo_until=None).first()


class DataForm(forms.Form):
    archive = forms.FileField(
        label="Zip of “My data”", error_messages={"required": "Choose the zip.", "empty": "The zip is empty."}
    )
