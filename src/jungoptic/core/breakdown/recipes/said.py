"""What people say when they look for a recipe: everyday words beside the trade's (judgement)."""

from __future__ import annotations

SAID: dict[str, str] = {
    "as-it-is": "real simple practical straight nothing special",
    "actor-in-miniature": "model set tiny small world doll house castle city walks small person "
    "little room hair light",
    "view-through": "window door gate arch opening view outside background talking before a "
    "background landscape train",
    "split-focus": "deep sharp focus stack macro model blur everything sharp",
    "set-extension": "matte painting castle skyline city ceiling roof mountain bigger set top "
    "two people on a roof street",
    "parallax-extension": "train car window moving background scroll tracking dolly backdrop ride "
    "music",
    "two-sizes": "giant small person tall forced perspective size scale table big zoom hides size "
    "hand",
    "zoom-to-life": "crash zoom quick zoom lens hides scale hides size model toy real giant "
    "building tower castle",
    "day-for-night": "moon night moonlight dark evening dusk",
    "old-photo-match": "photograph archive then and now postcard history old picture",
    "twin-split": "twin double clone same person twice sister brother talks to themselves mirror "
    "music",
    "moving-split": "throw catch toss ball bottle hat to oneself",
    "flopped-double": "mirror symmetrical half house corridor two sides long room",
    "small-crowd": "army audience people stadium extras many march concert music demonstration "
    "hair light",
    "costume-jump": "costume clothes dress change quick change music clip walk",
    "see-through": "ghost invisible transparent spirit fade cloak haunted",
    "floating-person": "fly flying levitate hover fall float jump drop roof hair light dream",
    "roof-from-below": "two people on a roof ledge bridge tower cliff balcony look up high small "
    "figures far away hair light",
    "talking-before": "talking before a background interview news speech face portrait window "
    "landscape hair light",
    "held-glow": "flame in a hand candle torch lantern glow magic spell match hand-held light",
    "glowing-puppet": "ghost spirit jelly firefly lit fog mist blink translucent creature",
    "turning-stand": "spin orbit rotate freeze dance music hair light circle around",
    "lock-off-join": "luck trick throw basket dice bottle flip dog cat lucky take combine",
    "unseen-hand": "poltergeist moves by itself slide cup bottle chair book door ghost magic ring "
    "drawer",
    "wire-rod-rig": "hang hanging levitate thread string fishing line bottle broom lantern bird "
    "fly pendulum",
    "spin-link": "knife bottle axe throw spinning catch coin weapon",
    "vanish-part": "disappear missing hole gone vanish hand head finger",
    "burst-through": "door smash break crash wall bottle glass window kick",
    "picture-insert": "phone screen tablet tv television monitor laptop photograph frame poster "
    "music video",
    "pulled-model": "train car ship boat truck plane vehicle toy drive",
    "fire-element": "explosion flame burning rain snow dust bubbles sparkler",
    "fire-by-light": "house burning glow window candle flicker torch hand-held flame fireplace",
    "cloud-vapour": "storm smoke ink water tank magic fog sky underwater",
    "passing-vehicle": "car train run over traffic road accident bus",
    "animal-plate": "dog cat bird horse pet wolf big dog",
    "puppet-in-plate": "creature monster dinosaur animal doll bird stop motion animation",
    "puppet-stage": "stop motion animation clay doll figure",
    "hyper-lapse": "time-lapse city travel clouds sunrise day passes zoom walk music",
}
