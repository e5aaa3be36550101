from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from web.accounts import views

app_name = "accounts"
urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="login"),
    path("sign-out/", views.SignOut.as_view(), name="logout"),
    path("sign-up/", views.SignUp.as_view(), name="signup"),
    path("demo/", views.demo, name="demo"),
    path("", views.account, name="account"),
    path("mail/", views.ChangeMail.as_view(), name="mail"),
    path("my-data/", views.MyData.as_view(), name="data"),
    path("my-data/state/", views.DataState.as_view(), name="data-state"),
    path("recovery/", views.Recovery.as_view(), name="recovery"),
    path("forgotten/", views.Forgotten.as_view(), name="forgotten"),
    path("by-mail/", views.PasswordByMail.as_view(), name="by-mail"),
    path("by-mail/sent/", auth.PasswordResetDoneView.as_view(template_name="accounts/by_mail_sent.html"), name="by-mail-sent"),
    path(
        "by-mail/<uidb64>/<token>/",
        auth.PasswordResetConfirmView.as_view(
            template_name="accounts/by_mail_new.html", success_url=reverse_lazy("accounts:login")
        ),
        name="by-mail-new",
    ),
    path(
        "password/",
        auth.PasswordChangeView.as_view(template_name="accounts/password.html", success_url=reverse_lazy("accounts:account")),
        name="password",
    ),
    path("delete/", views.DeleteAccount.as_view(), name="delete"),
]
