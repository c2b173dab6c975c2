package readiness

// Door is a way in to planning, teaching or judging. Whatever leads to exercises stands
// here; a page or a command that does so without naming its door is not started.
type Door struct {
	ID    string
	Words string // for the table in docs/safety.md
	Act   Act
	On    Surface
}

// Surface is where a door is.
type Surface string

const (
	Page    Surface = "page"
	Command Surface = "command"
)

// NoDoor is said of what neither plans nor teaches nor judges.
const NoDoor = "none"

// Doors are all there are.
var Doors = []Door{
	{"client_page", "client page, limits and report", Judge, Page},
	{"intake", "intake as it is filled in and saved", Judge, Page},
	{"library", "library and exercise page for a client", Judge, Page},
	{"tests", "movement tests, measures and the test of a step", Judge, Page},
	{"bench", "lever bench for a client", Judge, Page},
	{"import", "taking in files", Judge, Page},
	{"plan", "plan a session", Plan, Page},
	{"replan", "plan it anew with other wishes", Plan, Page},
	{"edit", "swap, add, move, dose and the like by hand", Plan, Page},
	{"undo", "undo and redo of a plan", Plan, Page},
	{"beside", "side by side, and what could stand instead", Plan, Page},
	{"plan_page", "the plan, printed or taken out", Plan, Page},
	{"next_time", "the record, with a plan for the next time", Ahead, Page},
	{"class_plan", "plan a class, or group it otherwise", Plan, Page},
	{"class_page", "the class, also for the wall", Plan, Page},
	{"check", "the check before a lesson", Teach, Page},
	{"teach", "teach a lesson, with its screens", Teach, Page},
	{"within", "change, ease or replan in a lesson", Teach, Page},
	{"marks", "marks in a lesson, pain among them", Teach, Page},
	{"class_check", "the check before a class", Teach, Page},
	{"class_teach", "teach a class, and plan its rest anew", Teach, Page},
	{"home", "programme for home and its changes", Ahead, Page},
	{"home_out", "what goes home: sheet, page, letter", Ahead, Page},
	{"weeks", "weeks ahead", Ahead, Page},
	{"limits_command", "restbend limits", Judge, Command},
	{"check_command", "restbend check", Judge, Command},
	{"plan_command", "restbend plan", Plan, Command},
	{"rest_command", "restbend plan --done", Plan, Command},
	{"class_command", "restbend class", Plan, Command},
	{"home_command", "restbend home", Ahead, Command},
	{"export_command", "restbend export of a client's sheet", Ahead, Command},
	{"course_command", "restbend course", Ahead, Command},
	{"next_command", "restbend next", Ahead, Command},
}

// FindDoor finds a door by its id.
func FindDoor(id string) (Door, bool) {
	for _, d := range Doors {
		if d.ID == id {
			return d, true
		}
	}
	return Door{}, false
}
