"""Shots, the stand-ins in their world, and the plates they are filmed in: decisions only."""

from __future__ import annotations

from django.contrib.postgres.fields import ArrayField
from django.db import models

from .. import documents
from ..kit.models import Body, Cloth, Lens, Mode, Person, Room, Support
from ..productions.models import Production
from ..records import Record, within
from .fields import PlateFields, ShotFields, StandInFields


class LiveShots(models.Manager["Shot"]):
    """Shots that have not been put away. What is put away can be fetched back by undo."""

    def get_queryset(self) -> models.QuerySet[Shot]:
        """Without those put away."""
        return super().get_queryset().filter(removed_at=None)


class Shot(Record):
    """One delivered picture and the world camera that pretends to see it."""

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="shots")
    number = models.CharField(max_length=20)
    title = models.CharField(max_length=120)
    action = models.TextField(max_length=2000, blank=True, default="")
    place = models.CharField(max_length=120, blank=True, default="")
    position = models.FloatField(default=0.0)
    screen_time_s = models.FloatField(default=4.0)
    delivery_width_px = models.PositiveIntegerField()
    delivery_height_px = models.PositiveIntegerField()
    playback_fps = models.FloatField()
    tolerance_px = models.FloatField(null=True, default=None)
    sensor_width_mm = models.FloatField(default=24.9)
    focal_mm = models.FloatField(default=35.0)
    camera_height_m = models.FloatField(default=1.5)
    tilt_deg = models.FloatField(default=0.0)
    pan_deg = models.FloatField(default=0.0)
    roll_deg = models.FloatField(default=0.0)
    shutter_deg = models.FloatField(default=180.0)
    time_of_day = models.CharField(max_length=40, blank=True, default="")
    camera_bearing_deg = models.FloatField(null=True, default=None)
    key_from_deg = models.FloatField(null=True, default=None)
    key_elevation_deg = models.FloatField(null=True, default=None)
    light_note = models.CharField(max_length=300, blank=True, default="")
    key_kind = models.CharField(max_length=4, blank=True, default="")
    key_ratio_stops = models.FloatField(null=True, default=None)
    key_size_deg = models.FloatField(null=True, default=None)
    key_temperature_k = models.FloatField(null=True, default=None)
    key_level_stops = models.FloatField(default=0.0)
    # How far the world camera has gone when the shot ends.
    move_right_m = models.FloatField(default=0.0)
    move_away_m = models.FloatField(default=0.0)
    move_up_m = models.FloatField(default=0.0)
    move_pan_deg = models.FloatField(default=0.0)
    move_tilt_deg = models.FloatField(default=0.0)
    move_ease = models.CharField(max_length=4, default="both")
    #: The focal length then, over that at the beginning.
    move_zoom = models.FloatField(default=1.0)
    padding = models.FloatField(default=0.0)
    visibility_m = models.FloatField(null=True, default=None)
    # Seconds of the story to one on the screen, and where that changes, as `trick_fields`.
    story_speed = models.FloatField(default=1.0)
    story_speed_keys = models.JSONField(default=list, blank=True)
    #: What the advisor was told, as `core.breakdown.advisor.Facts`.
    facts = models.JSONField(null=True, default=None)
    #: Dividers, reframe and beats, as `trick_fields`.
    splits = models.JSONField(default=list, blank=True)
    reframe = models.JSONField(null=True, default=None, blank=True)
    beats = models.JSONField(default=list, blank=True)
    #: Further cameras, each as `fields.ViewFields`; what stands above is the first.
    views = models.JSONField(default=list, blank=True)
    #: What this shot is called in the edit; how a re-import finds it again.
    edit_name = models.CharField(max_length=120, blank=True, default="")
    variant_of = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    removed_at = models.DateTimeField(null=True, default=None, editable=False)

    objects = LiveShots()
    everything: models.Manager[Shot] = models.Manager()

    class Meta:
        ordering = ["position", "created_at", "id"]
        base_manager_name = "everything"
        indexes = [models.Index(fields=["production", "position"])]
        constraints = [within("shot", ShotFields)]

    def __str__(self) -> str:
        return f"{self.number} {self.title}"

    def production_of(self) -> Production:
        """The production it belongs to."""
        return self.production


class RecipeUse(Record):
    """A recipe applied to a shot: its frozen text, and what it wrote into each plate, so that
    applying it again can tell the recipe's values from a person's edits."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="recipe_uses")
    recipe = models.CharField(max_length=60)
    name = models.CharField(max_length=120)
    position = models.FloatField(default=0.0)
    content = models.JSONField()
    written = models.JSONField(default=dict)
    #: The view of the shot that it builds; null: the first.
    view_id = models.UUIDField(null=True, default=None)

    class Meta:
        ordering = ["position", "created_at", "id"]

    def __str__(self) -> str:
        return f"{self.name} in {self.shot}"

    @property
    def as_applied(self) -> documents.Document:
        """The recipe as it was applied, in today's form."""
        return documents.RECIPE.read(self.content)

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production


class Plate(Record):
    """One piece of a shot and the decisions about its stage; null means "as derived"."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="plates")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=12)
    position = models.FloatField(default=0.0)
    scale = models.FloatField(default=1.0)
    ground_m = models.FloatField(default=0.0)
    body = models.ForeignKey(Body, null=True, on_delete=models.SET_NULL, related_name="+")
    mode = models.ForeignKey(Mode, null=True, on_delete=models.SET_NULL, related_name="+")
    lens = models.ForeignKey(Lens, null=True, on_delete=models.SET_NULL, related_name="+")
    focal_mm = models.FloatField(null=True, default=None)
    f_number = models.FloatField(default=5.6)
    focus_world_m = models.FloatField(null=True, default=None)
    focus_passes = models.PositiveSmallIntegerField(default=1)
    motion = models.CharField(max_length=10, default="powered")
    capture_fps = models.FloatField(null=True, default=None)
    shutter_deg = models.FloatField(default=180.0)
    iso = models.FloatField(default=800.0)
    nd_stops = models.FloatField(default=0.0)
    axis_height_m = models.FloatField(null=True, default=None)
    drop_m = models.FloatField(default=0.0)
    tilt_deg = models.FloatField(null=True, default=None)
    setback_m = models.FloatField(default=0.0)
    turns_about = models.CharField(max_length=8, default="socket")
    on_side = models.CharField(max_length=5, blank=True, default="")
    slide_mm = models.FloatField(default=0.0)
    light_lux = models.FloatField(null=True, default=None)
    screen_width_m = models.FloatField(default=0.0)
    screen_height_m = models.FloatField(default=0.0)
    screen_foot_m = models.FloatField(default=0.0)
    screen_gap_m = models.FloatField(default=2.0)
    screen_colour = models.CharField(max_length=6, default="green")
    screen_sweep_m = models.FloatField(default=0.0)
    #: Colours before the screen, each as `fields.SwatchFields`.
    swatches = models.JSONField(default=list, blank=True)
    white_k = models.FloatField(default=5600.0)
    heading_deg = models.FloatField(null=True, default=None)
    #: Interactive light, as `fields.CueFields`; null: none.
    cue = models.JSONField(null=True, default=None, blank=True)
    #: What further lamps play, each as `fields.CueFields`.
    more_cues = models.JSONField(default=list, blank=True)
    table_m = models.FloatField(null=True, default=None)
    mirror = models.BooleanField(default=False)
    #: Lamps as they stand, each as `fields.LampPlace`.
    lamps = models.JSONField(default=list, blank=True)
    room = models.ForeignKey(Room, null=True, on_delete=models.SET_NULL, related_name="+")
    support = models.ForeignKey(Support, null=True, on_delete=models.SET_NULL, related_name="+")
    cloth = models.ForeignKey(Cloth, null=True, on_delete=models.SET_NULL, related_name="+")
    room_turned = models.BooleanField(default=False)
    room_behind_m = models.FloatField(null=True, default=None)
    room_left_m = models.FloatField(null=True, default=None)
    fix_left_x_m = models.FloatField(null=True, default=None)
    fix_left_y_m = models.FloatField(null=True, default=None)
    fix_right_x_m = models.FloatField(null=True, default=None)
    fix_right_y_m = models.FloatField(null=True, default=None)
    hazards = ArrayField(models.CharField(max_length=20), default=list)
    note = models.TextField(max_length=2000, blank=True, default="")
    use = models.ForeignKey(RecipeUse, null=True, on_delete=models.SET_NULL, related_name="plates")
    pass_key = models.CharField(max_length=40, blank=True, default="")
    why = models.CharField(max_length=400, blank=True, default="")
    required = models.BooleanField(default=True)
    lock_group = models.CharField(max_length=20, blank=True, default="")
    film_on = models.DateField(null=True, default=None)
    # What post does with it, as far as it costs hours.
    cut = models.CharField(max_length=8, default="none")
    shapes = models.PositiveSmallIntegerField(null=True, default=None)
    key_every = models.PositiveSmallIntegerField(default=4)
    keying = models.CharField(max_length=8, default="bisect")
    paint_share = models.FloatField(default=0.0)
    tracked = models.BooleanField(default=False)
    takes_planned = models.PositiveSmallIntegerField(default=4)
    hold = models.PositiveSmallIntegerField(default=1)
    flop = models.BooleanField(default=False)
    edge = models.CharField(max_length=4, default="hard")
    # Tricks of this plate, as `trick_fields`; null: none.
    rig = models.JSONField(null=True, default=None, blank=True)
    crowd = models.JSONField(null=True, default=None, blank=True)
    markers = models.JSONField(null=True, default=None, blank=True)
    ramp = models.JSONField(default=list, blank=True)
    #: The view of the shot that it is a piece of; null: the first.
    view_id = models.UUIDField(null=True, default=None)
    pass_for = models.CharField(max_length=6, blank=True, default="")
    placed_in_post = models.BooleanField(default=False)
    placed_from_m = models.FloatField(null=True, blank=True)
    walks_on_set = models.BooleanField(default=False)

    class Meta:
        ordering = ["position", "created_at", "id"]
        constraints = [within("plate", PlateFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production


class StandIn(Record):
    """Something that stands in the world of a shot at a real distance."""

    shot = models.ForeignKey(Shot, on_delete=models.CASCADE, related_name="stand_ins")
    plate = models.ForeignKey(Plate, null=True, on_delete=models.SET_NULL, related_name="stand_ins")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=8)
    x_m = models.FloatField(default=0.0)
    y_m = models.FloatField(default=5.0)
    z_m = models.FloatField(default=0.0)
    width_m = models.FloatField(default=0.5)
    height_m = models.FloatField(default=1.7)
    depth_m = models.FloatField(default=0.0)
    heading_deg = models.FloatField(default=0.0)
    speed_m_s = models.FloatField(default=0.0)
    course_deg = models.FloatField(default=90.0)
    looks_at = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    person = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    reach_m = models.FloatField(default=0.0)
    matters = models.CharField(max_length=8, default="full")

    class Meta:
        ordering = ["created_at", "id"]
        constraints = [within("standin", StandInFields)]

    def __str__(self) -> str:
        return self.name

    def production_of(self) -> Production:
        """The production its shot belongs to."""
        return self.shot.production
