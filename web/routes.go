package web

import (
	"fmt"
	"slices"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/readiness"
)

// route is an address: who may ask for it, and what the trail says of asking.
type route struct {
	method, path string
	right        app.Right
	door         string // of readiness.Doors, or none: what neither plans nor teaches nor judges says so
	says         string // of looking or changing; empty where it says nothing of anybody
	do           gin.HandlerFunc
}

// none is said of an address that leads to no exercise.
const none = readiness.NoDoor

// routes are all addresses there are. There is no way in beside them: each is registered
// from here, behind its door.
func (w *site) routes() []route {
	return []route{
		{"GET", "/healthz", app.Anybody, none, "", w.health},
		{"GET", "/static/:hash/*path", app.Anybody, none, "", w.assets.serve},
		{"GET", "/figures/:name", app.Own, none, "", w.figures.serve},
		{"GET", "/", app.Day, none, "", w.today},
		{"GET", "/clients", app.Read, none, "", w.cached(w.clients)},
		{"GET", "/clients/new", app.Work, "intake", "", w.newClient},
		{"POST", "/clients", app.Work, "intake", "added a client", w.addClient},
		{"GET", "/intakes/:id", app.Read, "intake", "", w.resumeIntake},
		{"POST", "/intakes/:id/keep", app.Work, "intake", "filled in an intake", w.keepIntake},
		{"POST", "/intakes/:id/undo", app.Work, none, "filled in an intake", w.undoIntake},
		{"POST", "/intakes/:id/drop", app.Work, none, "dropped an intake", w.dropIntake},
		{"GET", "/clients/:id", app.Read, "client_page", "looked at her page", w.cached(w.client)},
		{"GET", "/clients/:id/edit", app.Read, "intake", "looked at her intake", w.editClient},
		{"POST", "/clients/:id/away", app.Work, none, "took her off the list, or brought her back", w.clientAway},
		{"POST", "/clients/:id", app.Work, "intake", "changed her file", w.changeClient},
		{"GET", "/clients/:id/screens", app.Read, "tests", "looked at her tests", w.screens},
		{"POST", "/clients/:id/undo", app.Work, none, "took the last change of her file back", w.undoClient},
		{"POST", "/clients/:id/screens", app.Work, "tests", "entered tests", w.addScreens},
		{"GET", "/clients/:id/screens/would", app.Read, "tests", "", w.wouldChange},
		{"POST", "/clients/:id/screens/take-back", app.Work, none, "took tests back", w.takeBackScreen},
		{"GET", "/clients/:id/rungs/:variant", app.Read, "tests", "looked at the test of a step", w.rung},
		{"POST", "/clients/:id/rungs/:variant", app.Work, "tests", "entered the test of a step", w.addRung},
		{"GET", "/plans/:id/session.pdf", app.Read, "plan_page", "took out a plan as PDF", w.printPDF},
		{"GET", "/plans/:id/ribbon.svg", app.Read, none, "", w.ribbonSVG},
		{"GET", "/clients/:id/report.pdf", app.Read, "client_page", "took out her report as PDF", w.reportPDF},
		{"GET", "/homes/:id/mail", app.Read, "home_out", "looked at a letter to her", w.mail},
		{"POST", "/homes/:id/mail", app.Work, "home_out", "wrote a letter to her", w.sendMail},
		{"GET", "/outbox", app.Keep, none, "looked at the letters", w.outbox},
		{"GET", "/outbox/:name", app.Keep, none, "took out a letter", w.letter},
		{"GET", "/exchange", app.Keep, none, "", w.exchange},
		{"POST", uploads, app.Keep, "import", "", w.addUpload},
		{"POST", "/exchange/take", app.Keep, "import", "took data in", w.takeIn},
		{"POST", "/exchange/take-back", app.Keep, none, "took back what was taken in", w.takeBackIn},
		{"GET", "/exchange/out/:what", app.Keep, none, "took out data of the whole studio", w.exportStudio},
		{"GET", "/clients/:id/out/:what", app.Work, none, "took out her data", w.exportClient},
		{"GET", "/plans/:id/session.vtt", app.Read, "plan_page", "took out a plan as cues", w.track},
		{"POST", "/clients/:id/homes", app.Work, "home", "made a programme for home", w.addHome},
		{"GET", "/homes/:id", app.Read, "home", "looked at her programme for home", w.home},
		{"POST", "/homes/:id/edit", app.Work, "home", "changed her programme for home", w.editHome},
		{"POST", "/homes/:id/undo", app.Work, "home", "changed her programme for home", w.undoHome},
		{"POST", "/homes/:id/away", app.Work, none, "took a programme for home away, or brought it back", w.homeAway},
		{"GET", "/homes/:id/sheet.pdf", app.Read, "home_out", "took out her sheet for home", w.homeSheet},
		{"GET", "/homes/:id/at-home.html", app.Read, "home_out", "took out her page for home", w.homeFile},
		{"GET", "/homes/:id/diary", app.Read, none, "looked at her diary", w.diary},
		{"POST", "/homes/:id/diary", app.Work, none, "took in her diary", w.takeDiary},
		{"POST", "/clients/:id/clock", app.Work, none, "entered her pelvic clock", w.tapClock},
		{"POST", "/clients/:id/clock/clear", app.Work, none, "entered her pelvic clock", w.clearClock},
		{"POST", "/clients/:id/curves", app.Work, none, "entered her curves", w.tapCurve},
		{"GET", "/clients/:id/limits", app.Read, "client_page", "looked at her limits", w.limitsSheet},
		{"GET", "/clients/:id/report", app.Read, "client_page", "looked at her report", w.report},
		{"GET", "/clients/:id/trends/:name", app.Read, none, "", w.trend},
		{"POST", "/clients/:id/plans", app.Work, "plan", "planned a session", w.addPlan},
		{"GET", "/plans/:id", app.Read, "plan_page", "looked at a plan", w.cached(w.plan)},
		{"POST", "/plans/:id/away", app.Work, none, "took a plan away, or brought it back", w.planAway},
		{"POST", "/plans/:id/change", app.Work, "replan", "changed a plan", w.changePlan},
		{"POST", "/plans/:id/edit", app.Work, "edit", "changed a plan", w.editPlan},
		{"POST", "/plans/:id/undo", app.Work, "undo", "changed a plan", w.undo},
		{"POST", "/plans/:id/redo", app.Work, "undo", "changed a plan", w.redo},
		{"POST", "/plans/:id/schedule", app.Work, none, "moved a plan", w.schedule},
		{"POST", "/plans/:id/template", app.Work, none, "kept a plan as a template", w.saveTemplate},
		{"GET", "/plans/:id/possible", app.Read, "beside", "", w.possible},
		{"GET", "/plans/:id/beside", app.Read, "beside", "", w.beside},
		{"GET", "/plans/:id/print", app.Read, "plan_page", "looked at a plan to print", w.print},
		{"GET", "/plans/:id/check", app.Read, "check", "", w.recheck},
		{"POST", "/plans/:id/check", app.Work, "check", "asked how she is today", w.keepRecheck},
		{"POST", "/clients/:id/clearances", app.Work, none, "loosened a rule on somebody’s word", w.addClearance},
		{"POST", "/clients/:id/clearances/remove", app.Work, none, "took a loosened rule back", w.removeClearance},
		{"POST", "/clients/:id/instructions", app.Work, none, "entered a clinician’s figure", w.addInstruction},
		{"POST", "/clients/:id/instructions/remove", app.Work, none, "took a clinician’s figure back", w.removeInstruction},
		{"GET", "/plans/:id/teach", app.Read, "teach", "taught from a plan", w.teach},
		{"GET", "/plans/:id/film/:item", app.Read, none, "", w.film},
		{"GET", "/plans/:id/wrap-up", app.Read, none, "", w.wrapUp},
		{"GET", "/plans/:id/lesson", app.Read, "teach", "", w.lessonNow},
		{"POST", "/plans/:id/within", app.Work, "within", "changed a plan while teaching", w.within},
		{"GET", "/plans/:id/marks", app.Read, none, "", w.marks},
		{"POST", "/plans/:id/marks", app.Work, "marks", "marked a lesson", w.addMarks},
		{"POST", "/plans/:id/series", app.Work, none, "kept a measured series", w.addSeries},
		{"GET", "/plans/:id/follow", app.Read, none, "", w.follow},
		{"POST", "/plans/:id/stands", app.Work, none, "", w.stands},
		{"POST", "/plans/:id/order", app.Work, none, "", w.order},
		{"GET", "/plans/:id/screen", app.Read, "teach", "", w.secondScreen},
		{"GET", "/plans/:id/remote", app.Read, "teach", "", w.remote},
		{"GET", "/plans/:id/record", app.Read, none, "", w.recordNow},
		{"GET", "/worker.js", app.Anybody, none, "", w.worker},
		{"POST", "/plans/:id/record", app.Work, "next_time", "wrote a record", w.addRecord},
		{"POST", "/templates/:id/forget", app.Work, none, "forgot a template", w.forgetTemplate},
		{"POST", "/templates/:id/keep", app.Work, none, "brought back a template", w.keepTemplate},
		{"GET", "/clients/:id/weeks", app.Read, "weeks", "looked at her weeks", w.cached(w.weeks)},
		{"POST", "/clients/:id/weeks", app.Work, "weeks", "planned her weeks", w.keepWeeks},
		{"POST", "/clients/:id/weeks/undo", app.Work, none, "took her weeks back", w.undoWeeks},
		{"GET", "/clients/:id/weeks.ics", app.Read, "weeks", "took out her weeks as a calendar", w.weeksCalendar},
		{"GET", "/calendar", app.Read, none, "", w.calendar},
		{"POST", "/calendar/move", app.Work, none, "moved a session", w.moveBooking},
		{"GET", "/classes", app.Read, none, "", w.classes},
		{"POST", "/classes", app.Work, "class_plan", "made a class", w.addClass},
		{"GET", "/classes/:id", app.Read, "class_page", "looked at a class with her", w.cached(w.class)},
		{"POST", "/classes/:id", app.Work, "class_plan", "changed a class with her", w.changeClass},
		{"POST", "/classes/:id/away", app.Work, none, "took a class with her away, or brought it back", w.classAway},
		{"GET", "/classes/:id/wall", app.Read, "class_page", "looked at a class with her to print", w.classWall},
		{"GET", "/classes/:id/grouping", app.Read, "class_plan", "", w.cached(w.grouping)},
		{"GET", "/classes/:id/teach", app.Read, "class_teach", "taught a class with her", w.teachClass},
		{"POST", "/classes/:id/rest", app.Work, "class_teach", "planned the rest of a class with her", w.restOfClass},
		{"POST", "/classes/:id/records", app.Work, none, "wrote the records of a class with her", w.finishClass},
		{"GET", "/library", app.Read, "library", "", w.remembered(w.cached(w.shelf))},
		{"GET", "/library/:variant", app.Read, "library", "", w.cached(w.exercise)},
		{"GET", "/library/:variant/film", app.Read, none, "", w.exerciseFilm},
		{"GET", "/lever", app.Read, "bench", "", w.lever},
		{"POST", "/clients/:id/surfaces", app.Work, none, "entered a surface", w.addSurface},
		{"GET", "/records", app.Read, none, "", w.records},
		{"GET", "/records/:id", app.Read, none, "looked at a record", w.record},
		{"POST", "/records/:id/follow-up", app.Work, none, "noted how a session settled", w.followUp},
		{"POST", "/records/:id/asked", app.Work, none, "noted how a session settled", w.quickFollowUp},
		{"POST", "/clients/:id/asked", app.Work, none, "noted that she was asked about warning signs", w.askedAll},
		{"POST", "/clients/:id/answers", app.Work, none, "answered what her words raised", w.answerText},
		{"POST", "/clients/:id/agreed", app.Work, none, "noted who agreed to exercise", w.agreed},
		{"POST", "/clients/:id/flags", app.Work, none, "noted who cleared a warning sign", w.clearFlag},
		{"GET", "/classes/:id/check", app.Read, "class_check", "", w.classCheck},
		{"POST", "/classes/:id/check", app.Work, "class_check", "asked how a class with her is today", w.keepClassCheck},
		{"POST", "/clients/:id/overrule", app.Work, none, "overruled what the record says", w.overrule},
		{"POST", "/clients/:id/seen", app.Work, none, "noted a clinician’s look", w.seen},
		{"GET", "/records/:id/correct", app.Read, none, "looked at a record", w.correctForm},
		{"POST", "/records/:id/correct", app.Work, none, "corrected a record", w.correct},
		{"POST", "/records/:id/notes", app.Work, none, "noted something in a record", w.addNote},
		{"GET", "/sign-in", app.Anybody, none, "", w.signInPage},
		{"POST", "/sign-in", app.Anybody, none, "", w.signIn},
		{"GET", "/first", app.Anybody, none, "", w.firstPage},
		{"POST", "/first", app.Anybody, none, "", w.first},
		{"POST", "/demo-in", app.Anybody, none, "", w.demoIn},
		{"GET", "/filling", app.Own, none, "", w.filling},
		{"GET", "/locked", app.Own, none, "", w.lockedPage},
		{"POST", "/lock", app.Own, none, "", w.lock},
		{"POST", "/unlock", app.Own, none, "", w.unlock},
		{"POST", "/sign-out", app.Own, none, "", w.signOut},
		{"GET", "/settings", app.Day, none, "", w.settings},
		{"POST", "/settings/look", app.Own, none, "", w.setLook},
		{"POST", "/settings/house", app.Keep, none, "changed the settings of the studio", w.setHouse},
		{"GET", "/me", app.Day, none, "", w.me},
		{"POST", "/me/:what", app.Day, none, "changed how she signs in", w.changeMe},
		{"GET", "/people", app.Keep, none, "", w.people},
		{"POST", "/people", app.Keep, none, "added somebody to the studio", w.addPerson},
		{"GET", "/people/:id", app.Keep, none, "", w.person},
		{"POST", "/people/:id/:what", app.Keep, none, "changed who works in the studio", w.changePerson},
		{"GET", "/help/:name", app.Day, none, "", w.help},
		{"GET", "/search", app.Read, none, "", w.search},
		{"GET", "/trail", app.Keep, none, "looked at the trail", w.trail},
		{"GET", "/clients/:id/rights", app.Read, none, "", w.rights},
		{"POST", "/clients/:id/rights/:what", app.Work, none, "changed what she agreed to, or how her data is kept", w.changeRights},
		{"POST", "/clients/:id/erase", app.Keep, none, "erased a client", w.erase},
		{"GET", "/copies", app.Keep, none, "", w.copies},
		{"POST", "/copies", app.Keep, none, "", w.copyNow},
	}
}

// checkDoors refuses a table that leaves a door of readiness without an address, or an
// address without a word on whether it leads to exercises.
func checkDoors(all []route) error {
	led := map[string]bool{none: true}
	for _, r := range all {
		d, known := readiness.FindDoor(r.door)
		if r.door != none && (!known || d.On != readiness.Page) {
			return fmt.Errorf("%s %s: %q is no door of readiness; expected one, or %q for what leads to no exercise",
				r.method, r.path, r.door, none)
		}
		led[r.door] = true
	}
	for _, path := range exports {
		if !slices.ContainsFunc(all, func(r route) bool { return r.path == path && r.door != none }) {
			return fmt.Errorf("%s is taken out at no door of readiness", path)
		}
	}
	for _, d := range readiness.Doors {
		if d.On == readiness.Page && !led[d.ID] {
			return fmt.Errorf("no address leads to the door %s of readiness", d.ID)
		}
	}
	return nil
}
