package kit

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/store"
)

// deeds says of every route that changes something, and of those that show or
// hand out what is kept of a student, what is written down when it was done; empty
// for what is not: it changes nothing that lasts. Students are named by number.
var deeds = map[string]string{
	"POST /account":                                         "changed their own name or address",
	"POST /account/password":                                "changed their own password",
	"POST /account/everywhere":                              "signed out everywhere else",
	"POST /account/signins/{signin}/end":                    "signed out elsewhere",
	"POST /account/second/keep":                             "asked for a code when signing in",
	"POST /account/second/end":                              "took the code at signing in away",
	"POST /account/own":                                     "changed their own units or paper",
	"POST /school":                                          "changed the school's settings",
	"POST /school/people":                                   "invited a colleague",
	"POST /school/people/withdraw":                          "withdrew an invitation",
	"POST /school/people/{person}/reset":                    "made a link for a new password",
	"POST /school/people/{person}/admin":                    "changed who is an administrator",
	"POST /school/people/{person}/disable":                  "let a colleague sign in no more, or again",
	"POST /school/people/{person}/hand":                     "handed classes on",
	"GET /school/backups/{backup}":                          "downloaded a backup",
	"POST /school/backups/gone":                             "said that backups are gone",
	"GET /school/deeds.csv":                                 "exported who did what",
	"POST /classes":                                         "made a class",
	"POST /classes/year":                                    "began a new school year",
	"POST /classes/{class}/students":                        "added students",
	"POST /classes/{class}/name":                            "renamed a class",
	"POST /classes/{class}/away":                            "put a class away, or brought it back",
	"POST /classes/{class}/roster":                          "",
	"POST /classes/{class}/roster/keep":                     "took a list in",
	"POST /classes/{class}/shares":                          "changed with whom a class is shared",
	"POST /classes/{class}/calendar":                        "changed the lessons",
	"POST /classes/{class}/calendar/feed":                   "gave the calendar a new address",
	"GET /classes/{class}/list.csv":                         "exported a class's list",
	"GET /students/{student}":                               "saw what is kept of a student",
	"GET /students/{student}/export.zip":                    "exported everything of a student",
	"POST /students/{student}":                              "changed what is known of a student",
	"POST /students/{student}/links/revoke":                 "revoked a student's links",
	"POST /students/{student}/name":                         "renamed a student",
	"POST /students/{student}/move":                         "moved a student",
	"POST /students/{student}/leave":                        "let a student leave, or come back",
	"POST /students/{student}/merge":                        "made one of two students",
	"POST /students/{student}/forget":                       "forgot a student",
	"POST /projects":                                        "made a project",
	"POST /projects/file":                                   "took a project file in",
	"GET /projects/{project}/project.zip":                   "exported a project",
	"POST /projects/{project}/away":                         "put a project away",
	"POST /projects/{project}/delete":                       "deleted a project",
	"POST /projects/{project}/back":                         "brought a project back",
	"POST /projects/{project}/copy":                         "copied a project",
	"POST /projects/{project}/hand":                         "gave a colleague a copy of a project",
	"POST /projects/{project}/shares":                       "changed with whom a project is shared",
	"POST /projects/{project}/class":                        "let a class draw a project",
	"POST /projects/{project}/class/drop":                   "let a class draw a project no more",
	"POST /projects/{project}/plan":                         "kept a plan",
	"POST /projects/{project}/plan.json":                    "took a plan file in",
	"POST /projects/{project}/plans/{version}/restore":      "brought an earlier plan back",
	"POST /projects/{project}/picture":                      "added a picture to a project",
	"POST /projects/{project}/demonstration":                "showed a box in front of the class",
	"POST /projects/{project}/pictures/{picture}":           "changed a project's picture",
	"POST /projects/{project}/pictures/{picture}/withdraw":  "took a picture off a project",
	"POST /projects/{project}/views":                        "added a picture to be brought to one height",
	"POST /projects/{project}/views/pair":                   "hung pictures together or apart",
	"POST /projects/{project}/views/{view}":                 "pressed points on a picture",
	"POST /projects/{project}/views/{view}/marks":           "changed a line across pictures",
	"POST /projects/{project}/frames":                       "kept a frame",
	"POST /projects/{project}/frames/{frame}/remove":        "removed a frame",
	"POST /projects/{project}/students/{student}/picture":   "gave a student a picture of their own",
	"POST /projects/{project}/road":                         "changed the road",
	"POST /projects/{project}/road/take":                    "changed the road",
	"POST /projects/{project}/road/keep":                    "kept a road for later",
	"POST /projects/{project}/road/drop":                    "dropped a kept road",
	"POST /projects/{project}/comparing":                    "changed how drawings are compared",
	"POST /projects/{project}/landmarks":                    "added a landmark",
	"POST /projects/{project}/landmarks/{landmark}":         "changed a landmark",
	"POST /projects/{project}/landmarks/{landmark}/remove":  "removed a landmark",
	"POST /projects/{project}/links":                        "changed or revoked links",
	"GET /projects/{project}/links/screen":                  "showed students' links",
	"POST /projects/{project}/links/code":                   "made or ended a lesson's code",
	"POST /projects/{project}/print/jobs":                   "had a class set made",
	"POST /projects/{project}/print/sets":                   "kept a choice of pages",
	"GET /jobs/{job}/set.pdf":                               "got a class set",
	"POST /jobs/{job}/cancel":                               "stopped a class set",
	"POST /printsets/{set}/remove":                          "removed a choice of pages",
	"POST /printers":                                        "added a printer",
	"POST /printers/{printer}":                              "corrected a printer",
	"POST /printers/{printer}/remove":                       "removed a printer",
	"POST /library":                                         "added a picture",
	"POST /library/{picture}":                               "described a picture",
	"POST /library/{picture}/remove":                        "removed a picture",
	"POST /projects/{project}/students/{student}/ticks":     "ticked boxes",
	"POST /projects/{project}/students/{student}/stage":     "ticked a stage",
	"POST /projects/{project}/students/{student}/verdict":   "gave a verdict",
	"POST /projects/{project}/students/{student}/seat":      "marked a hand, a flag or an absence",
	"POST /projects/{project}/students/{student}/notes":     "wrote a note",
	"POST /projects/{project}/students/{student}/reached":   "marked an objective",
	"POST /projects/{project}/students/{student}/part":      "gave a student a part to draw",
	"POST /classes/{class}/seats":                           "gave a class its seats",
	"POST /classes/{class}/bypace":                          "gave a class sets by pace",
	"POST /classes/{class}/several":                         "changed several students at once",
	"POST /projects/{project}/call":                         "called to the class",
	"POST /projects/{project}/reached":                      "marked what was measured as reached",
	"GET /projects/{project}/students/{student}/report":     "saw a student's report",
	"GET /projects/{project}/students/{student}/report.pdf": "got a student's report",
	"GET /projects/{project}/report.csv":                    "exported a class's report",
	"GET /projects/{project}/report.xlsx":                   "exported a class's report",
	"GET /projects/{project}/training.csv":                  "exported a class's report",
	"GET /projects/{project}/report.pdf":                    "got a class's report",
	"POST /projects/{project}/students/{student}/helper":    "made a link for a helper at home",
	"POST /projects/{project}/stage":                        "ticked a stage for many",
	"POST /projects/{project}/handin":                       "said when students hand photos in",
	"POST /projects/{project}/log":                          "wrote in the log",
	"POST /notes/{note}":                                    "changed or deleted a note",
	"POST /projects/{project}/materials":                    "changed the cupboard",
	"POST /projects/{project}/check":                        "took photos in",
	"POST /projects/{project}/check/ticks":                  "ticked what photos show",
	"POST /strays/{stray}/claim":                            "said whose a photo is",
	"POST /strays/{stray}/remove":                           "removed a photo",
	"GET /checkins/{checkin}":                               "saw a photo of a drawing",
	"POST /checkins/{checkin}/places":                       "placed corners or landmarks",
	"POST /checkins/{checkin}/ticks":                        "ticked what a photo shows",
	"POST /checkins/{checkin}/remove":                       "removed a check-in",
	"POST /projects/{project}/finish/tiles":                 "",
}

// often is how long the same deed of somebody about the same thing is one deed: a
// lesson has a thousand ticks, and they are kept for themselves.
const often = 10 * time.Minute

// mostLately bounds how many deeds of late are remembered for that.
const mostLately = 4096

// lately remembers when deeds were last written down.
type lately struct{ *lru.Cache[string, time.Time] }

// first reports whether a deed is to be written down, not having been just now.
func (l lately) first(d store.Deed, now time.Time) bool {
	key := fmt.Sprint(*d.TeacherID, d.Address, d.Deed, d.ProjectID, d.ClassID, d.StudentID)
	if at, there := l.Get(key); there && now.Sub(at) < often {
		return false
	}
	l.Add(key, now)
	return true
}

// HasDeed reports whether it is settled what is written down when a route is used.
func HasDeed(method, pattern string) bool { _, ok := deeds[method+" "+pattern]; return ok }

// Deeds writes down who did what, once it was done.
func (k *Kit) Deeds(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		words := deeds[r.Method+" "+chi.RouteContext(r.Context()).RoutePattern()]
		if words == "" {
			next.ServeHTTP(w, r)
			return
		}
		answer := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(answer, r)
		if answer.Status() >= http.StatusBadRequest || r.Method == http.MethodHead {
			return
		}
		me := Teacher(r)
		d := store.Deed{SchoolID: me.SchoolID, TeacherID: &me.ID, Who: me.Name, Address: k.Proxies.From(r), Deed: words,
			ProjectID: numbered(r, store.OfProject), ClassID: numbered(r, store.OfClass), StudentID: numbered(r, store.OfStudent)}
		if strings.HasSuffix(r.URL.Path, "/forget") {
			d.StudentID = 0
		}
		if !k.lately.first(d, time.Now()) {
			return
		}
		if err := k.Store.KeepDeed(r.Context(), d); err != nil && r.Context().Err() == nil {
			k.Log.Error("who did what could not be written down", "route", routeOf(r), "error", err)
		}
	})
}

// numbered returns the number of a part of the address, 0 where it has none.
func numbered(r *http.Request, part string) uint64 {
	typed, _, _ := strings.Cut(chi.URLParam(r, part), "-")
	id, err := strconv.ParseUint(typed, 10, 63)
	if err != nil {
		return 0
	}
	return id
}
