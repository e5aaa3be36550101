from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from web.accounts import views

app_name = "accounts"
urlpatterns = [
    path("sign-in/", auth.LoginView.as_view(template_name="accounts/login.html", redirect_authenticated_user=True), name="login"),
    path("sign-out/", auth.LogoutView.as_view(), name="logout"),
    path("sign-up/", views.SignUp.as_view(), name="signup"),
    path("demo/", views.demo, name="demo"),
    path("", views.account, name="account"),
    path(
        "password/",
        auth.PasswordChangeView.as_view(template_name="accounts/password.html", success_url=reverse_lazy("accounts:account")),
        name="password",
    ),
    path("delete/", views.DeleteAccount.as_view(), name="delete"),
]
