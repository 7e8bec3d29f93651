"""Range-of-motion tests of skinned characters, from Python.

    import hobble
    character = hobble.open("badger.glb")
    run = character.run()
    for fault in run.faults:
        print(fault.severity, fault.sentence)

Lengths are metres, angles degrees, up to ``Character.height``. Arrays are views of the character's memory, read-only and
without copies. Other threads run while Hobble works; characters, plans and runs may be read from several at once. What goes
wrong is raised as ``hobble.Error`` with a sentence that says what can be done.
"""

from ._core import (
    Character,
    Check,
    Cure,
    Error,
    Fault,
    Finding,
    Joint,
    Log,
    Motion,
    Plan,
    Run,
    __version__,
    open,
)

__all__ = [
    "Character",
    "Check",
    "Cure",
    "Error",
    "Fault",
    "Finding",
    "Joint",
    "Log",
    "Motion",
    "Plan",
    "Run",
    "__version__",
    "open",
]
