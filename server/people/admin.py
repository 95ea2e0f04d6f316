"""The administrators' pages (/admin/): teams, invitations, and what happened, which nobody changes."""

from __future__ import annotations

from typing import Any

from django.contrib import admin
from django.http import HttpRequest

from people.models import Happening, Invitation, Member, Team


class MemberInline(admin.TabularInline):  # type: ignore[type-arg]
    model = Member
    extra = 0


@admin.register(Team)
class TeamAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    list_display = ("name", "made")
    inlines = [MemberInline]


class ReadOnly(admin.ModelAdmin):  # type: ignore[type-arg]
    def has_add_permission(self, request: HttpRequest) -> bool:
        return False

    def has_change_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        return False


@admin.register(Invitation)
class InvitationAdmin(ReadOnly):
    list_display = ("name", "email", "by", "made", "ends", "used")
    exclude = ("token",)


@admin.register(Happening)
class HappeningAdmin(ReadOnly):
    list_display = ("at", "what", "name", "about", "address")
    list_filter = ("what",)
    search_fields = ("name", "about")
    date_hierarchy = "at"

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        return False
