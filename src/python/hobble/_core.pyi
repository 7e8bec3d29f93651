from typing import Any, Callable, Dict, List, Mapping, Optional, Sequence, Tuple

import numpy as np
import numpy.typing as npt

__version__: str

class Error(RuntimeError): ...

class Joint:
    """A joint and what it was taken for."""
    @property
    def name(self) -> str: ...
    @property
    def index(self) -> int: ...
    @property
    def parent(self) -> Optional[int]:
        """Index of the joint it hangs from; None for a root."""
    @property
    def role(self) -> str:
        """"elbow"; "unknown" where nothing is known."""
    @property
    def side(self) -> str:
        """"left", "right" or "middle"."""
    @property
    def words(self) -> str:
        """As a person says it: "left elbow"."""
    @property
    def confidence(self) -> float:
        """Of role and side, 0 to 1."""

class Check:
    """Something of a build that Intake found unfit."""
    @property
    def check(self) -> str: ...
    @property
    def severity(self) -> int:
        """1 to 4."""
    @property
    def sentence(self) -> str: ...
    @property
    def advice(self) -> str: ...
    @property
    def value(self) -> float:
        """The number that decides."""

class Motion:
    """One motion of a plan."""
    @property
    def id(self) -> str: ...
    @property
    def words(self) -> str: ...
    @property
    def on(self) -> bool: ...
    @property
    def limit(self) -> float:
        """The largest of its steps."""
    @property
    def steps(self) -> List[float]:
        """Degrees; per cent of a pose or shape; frames of a clip."""

class Plan:
    """Motions to be tested."""
    @property
    def name(self) -> str: ...
    @property
    def poses(self) -> int:
        """Steps of the motions that are on."""
    @property
    def coverage(self) -> float:
        """Share of the skin that it moves, 0 to 1."""
    @property
    def motions(self) -> List[Motion]: ...
    def only(self, ids: Sequence[str]) -> Plan:
        """The plan with these motions on and all others off."""
    def save(self, path: str) -> None:
        """Writes it as JSON."""
    def __len__(self) -> int: ...

class Finding:
    """A sign of a fault: one measure past its limit at one joint."""
    @property
    def joint(self) -> str: ...
    @property
    def kind(self) -> str: ...
    @property
    def severity(self) -> int: ...
    @property
    def motion(self) -> str:
        """Id of the motion that shows it worst."""
    @property
    def onset(self) -> float:
        """Where in that motion it begins, in its unit."""
    @property
    def peak(self) -> float:
        """And where it is worst."""
    @property
    def value(self) -> float:
        """Of its measure at the peak."""
    @property
    def limit(self) -> float:
        """The first one it passes."""
    @property
    def vertices(self) -> npt.NDArray[np.uint32]:
        """(K,) indices into Character.positions: the skin it marks."""
    @property
    def sentence(self) -> str: ...

class Cure:
    """Steps that were tried, and what they do."""
    @property
    def name(self) -> str: ...
    @property
    def sentence(self) -> str: ...
    @property
    def gone(self) -> float:
        """The share of the fault's trouble that goes."""
    @property
    def harms(self) -> bool:
        """Whether anything else comes past a limit."""
    @property
    def steps(self) -> List[str]: ...
    def save(self, path: str) -> List[str]:
        """Writes the build with these steps done, all else as it was. Returns notes."""

class Fault:
    """What is wrong, once: a cause at a place, with its signs."""
    @property
    def joint(self) -> str:
        """Where it would be mended."""
    @property
    def kind(self) -> str:
        """Of the sign that tells it."""
    @property
    def severity(self) -> int: ...
    @property
    def cause(self) -> Optional[str]:
        """The likeliest, where enough speaks for it."""
    @property
    def evidence(self) -> Optional[str]: ...
    @property
    def signs(self) -> List[Finding]: ...
    @property
    def sentence(self) -> str: ...
    def cure(self) -> List[Cure]:
        """Cures that were tried, the one to take first; none where nothing helps."""

class Run:
    """A plan measured on a character, and judged."""
    @property
    def faults(self) -> List[Fault]:
        """Most urgent first."""
    @property
    def findings(self) -> List[Finding]:
        """Worst first."""
    @property
    def worst(self) -> int:
        """Severity of the worst fault; 0 for none."""
    @property
    def coverage(self) -> float:
        """Share of the skin that the plan moves, 0 to 1."""
    @property
    def seconds(self) -> float: ...
    @property
    def stopped(self) -> bool:
        """Whether it was stopped before its end; it says nothing of what it has not measured."""
    def json(self) -> Dict[str, Any]:
        """All of it, as docs/schema/run.schema.json says."""

class Character:
    """A character made ready to be tested."""
    @property
    def name(self) -> str: ...
    @property
    def file(self) -> str: ...
    @property
    def build(self) -> str:
        """SHA-256 of the file's content."""
    @property
    def height(self) -> float:
        """Of the body, metres."""
    @property
    def notes(self) -> List[str]:
        """What was missing or mended while reading."""
    @property
    def joints(self) -> List[Joint]: ...
    @property
    def positions(self) -> npt.NDArray[np.float32]:
        """(N, 3) metres, in neutral. A view; read-only."""
    @property
    def triangles(self) -> npt.NDArray[np.uint32]:
        """(M, 3) vertices. A view; read-only."""
    @property
    def weight_first(self) -> npt.NDArray[np.uint32]:
        """(N + 1,) where each vertex's influences begin. A view; read-only."""
    @property
    def weight_joint(self) -> npt.NDArray[np.uint16]:
        """(K,) indices of joints. A view; read-only."""
    @property
    def weight(self) -> npt.NDArray[np.float32]:
        """(K,) weights, those of a vertex summing to 1. A view; read-only."""
    def inspect(self) -> List[Check]:
        """What Intake finds, worst first."""
    def plan(self, singles: bool = False) -> Plan:
        """The range of motion test of this character; `singles`: without poses and shapes."""
    def read_plan(self, path: str) -> Plan:
        """A plan of a file, as `Plan.save` writes it."""
    def run(
        self,
        plan: Optional[Plan] = None,
        *,
        method: str = "linear",
        threads: int = 0,
        limits: Optional[str] = None,
        progress: Optional[Callable[[int, int], Optional[bool]]] = None,
    ) -> Run:
        """Measures every step of the plan (None: the full one), judges, and finds.

        `method`: "linear" or "dual-quaternion"; `threads`: 0 for all cores; `limits`: a file of limits;
        `progress(done, of)` is called with poses and may return False to stop.
        """
    def pose(self, turns: Mapping[str, Tuple[float, float, float]], *, method: str = "linear") -> npt.NDArray[np.float32]:
        """(N, 3) vertices with joints turned: name to degrees about x, y and z of the joint's own frame."""

class Log:
    """A team's production log: a file, or postgresql://person@server/database."""
    def __init__(self, place: str) -> None: ...
    @property
    def place(self) -> str: ...
    def defects(self, character: Optional[str] = None) -> List[Dict[str, Any]]:
        """Of all characters or one, as `hobble-cli log list --json` has them."""
    def enter(self, run: Run, key: str = "") -> None:
        """Enters a run; under a key, only once."""
    def check(self, run: Run, author: str = "script") -> Dict[str, Any]:
        """Asks for every open defect on the run's build and keeps the verdicts; as docs/schema/check.schema.json."""

def open(path: str, naming: Optional[str] = None) -> Character:
    """Reads a character (glTF, FBX, COLLADA and others) and makes it ready; `naming`: a naming profile."""
