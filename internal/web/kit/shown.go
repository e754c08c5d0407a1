package kit

import (
	"net/http"
	"strconv"
)

// PlanHeader is the header in which an answer names the version of the present plan.
const PlanHeader = "Zesty-Plan"

// ShownPlan returns the version of the plan that a page showed when something
// was done on it, 0 where it does not say.
func ShownPlan(r *http.Request) int {
	v, err := strconv.Atoi(r.FormValue("plan"))
	if err != nil || v < 0 {
		return 0
	}
	return v
}
