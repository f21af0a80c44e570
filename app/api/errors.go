package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"photherm/app/access"
	"photherm/app/archive"
	"photherm/app/compute"
	"photherm/app/solution"
	"photherm/app/store"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/search"
)

// withdrawn is the status of a request whose asker has left; nobody reads it.
const withdrawn = 499

// What is said of a place of a request: query.NAME and header.NAME for its parts, a JSON
// Pointer for a place in its body, body for the whole of it, line N for one in a file of lines.

// told is every error that a person can mend or must know of, with its status and what is
// said; what is not in it goes to the log and never out.
var told = []struct {
	is     error
	status int
	says   string
}{
	{store.ErrNotFound, http.StatusNotFound, "There is no such light. It may have been made on another data folder."},
	{store.ErrUnreadable, http.StatusUnprocessableEntity, "The stored document of this light cannot be read. It is kept as it is: the shelf gives out its text."},
	{store.ErrInBin, http.StatusConflict, "This light lies in the bin: nothing is saved to it there. Take it back, and what you typed is saved."},
	{store.ErrNotWritable, http.StatusConflict, "This log was brought in as it is: it cannot be written on."},
	{store.ErrTooManyLive, http.StatusConflict, "As many logs are being written as may be at once. Stop one first."},
	{store.ErrTooManyPhotos, http.StatusConflict, "A light has two hundred photos at most. Take some out first."},
	{store.ErrNothingToDo, http.StatusConflict, "There is nothing to take back."},
	{store.ErrOtherTab, http.StatusConflict, "The last change was made in another tab; undo it there."},
	{compute.ErrSuperseded, http.StatusConflict, "A newer question took the place of this one."},
	{compute.ErrClosing, http.StatusServiceUnavailable, "The program is stopping."},
	{solution.ErrTooLong, http.StatusUnprocessableEntity, "This light takes too long to calculate. Fewer branches or a plainer tree will do."},
	{errTooLongHere, http.StatusUnprocessableEntity, "This takes too long to calculate just now. Fewer branches or a plainer tree will do, or ask again when less is asked at once."},
	{errNoVariant, http.StatusUnprocessableEntity, "This light has no such variant."},
	{errNotARevision, http.StatusUnprocessableEntity, "If-Match must be the revision the change is made on."},
	{errNoCount, http.StatusUnprocessableEntity, "The number on hand lies between 0 and a million."},
	{errPartMoved, http.StatusPreconditionFailed, "This part was changed elsewhere since you opened it; what you typed is still here. Open it anew to see the other version."},
	{store.ErrLotMoved, http.StatusPreconditionFailed, "This lot was changed elsewhere since you opened it; what you typed is still here. Open it anew to see the other version."},
	{errElsewhere, http.StatusForbidden, "This server answers on its own machine only."},
	{errOtherName, http.StatusForbidden, "This server does not answer to that name. The names it answers to are given with --host."},
	{errOtherSite, http.StatusForbidden, "Requests from other sites are refused."},
	{errOutside, http.StatusUnauthorized, "Say the passphrase again: load the page anew. What you typed is kept in this browser."},
	{errNowhere, http.StatusNotFound, "There is nothing at this address."},
	{access.ErrWrong, http.StatusUnauthorized, "That is not the passphrase."},
	{access.ErrNone, http.StatusUnauthorized, "No passphrase is set: it is set with the command photherm passphrase."},
	{context.Canceled, withdrawn, "The request was withdrawn."},
	{errDatabase, http.StatusServiceUnavailable, "The database does not answer. Your changes are kept in this browser and will be saved when it is back."},
	{errProgram, http.StatusInternalServerError, "Something went wrong in the program; the log has the details. Your changes are kept."},
}

// What only this package meets.
var (
	errTooLongHere  = errors.New("the question took too long")
	errNoVariant    = errors.New("no such variant")
	errNotARevision = errors.New("not a revision")
	errNoCount      = errors.New("out of range")
	errPartMoved    = errors.New("the part has another revision")
	errElsewhere    = errors.New("a foreign host on loopback")
	errOtherName    = errors.New("a name of no own")
	errOtherSite    = errors.New("a foreign origin")
	errOutside      = errors.New("no session")
	errNowhere      = errors.New("no such address")
	errDatabase     = errors.New("the database does not answer")
	errProgram      = errors.New("a fault of the program")
)

// telling finds what is said of an error.
func telling(err error) (status int, says string, ok bool) {
	for _, t := range told {
		if errors.Is(err, t.is) {
			return t.status, t.says, true
		}
	}
	return 0, "", false
}

// failure turns an error into a problem document. What a person can mend is said; the rest
// goes to the log and never out.
func (s *server) failure(ctx context.Context, err error) error {
	var known huma.StatusError
	var conflict *store.Conflict
	var tooMuch *circuit.TooMuchError
	var problems design.Problems
	switch {
	case errors.As(err, &known):
		return err
	case errors.As(err, &conflict):
		return &conflictProblem{Status: http.StatusPreconditionFailed, Title: http.StatusText(http.StatusPreconditionFailed),
			Detail: "This light was changed elsewhere since you opened it. Both versions are kept: choose one.", Theirs: stored(conflict.Theirs, "")}
	case errors.Is(err, archive.ErrNotOne):
		return huma.Error422UnprocessableEntity("Nothing was brought in: " + err.Error() + ".")
	case errors.As(err, &problems):
		return unusable("light", "", problems)
	case errors.As(err, &tooMuch):
		return huma.Error422UnprocessableEntity(sentence(tooMuch.Error()))
	}
	status, says, ok := telling(err)
	if !ok {
		slog.ErrorContext(ctx, "request failed", "error", err)
		fault := errProgram
		if s.store == nil || store.Unreachable(err) || s.store.Ping(ctx) != nil {
			fault = errDatabase
		}
		status, says, _ = telling(fault)
	}
	return huma.NewError(status, says)
}

// at is failure with the place of the request that is at fault.
func at(where string, err error) error {
	status, says, ok := telling(err)
	if !ok {
		return err
	}
	return huma.NewError(status, says, &huma.ErrorDetail{Location: where, Message: err.Error()})
}

// refused is the answer to a question the light gives no ground for.
func refused(where string, err error) error {
	return huma.Error422UnprocessableEntity(sentence(err.Error()), &huma.ErrorDetail{Location: where, Message: err.Error()})
}

func sentence(s string) string { return strings.ToUpper(s[:1]) + s[1:] + "." }

// questioned parts what the question got wrong from a request withdrawn, and from a light
// that is too much to solve. The place is where, or what the error names.
func (s *server) questioned(ctx context.Context, where string, err error) error {
	var tooMuch *circuit.TooMuchError
	var place *search.PlaceError
	if errors.As(err, &tooMuch) || errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) {
		return s.failure(ctx, err)
	}
	if errors.As(err, &place) {
		where = "query." + place.Of
	}
	return refused(where, err)
}

// conflictProblem is the problem document of a change on an old base: it carries
// what stands there now; what was sent, the sender has.
type conflictProblem struct {
	Status int         `json:"status"`
	Title  string      `json:"title"`
	Detail string      `json:"detail"`
	Theirs StoredLight `json:"theirs"`
	Yours  Document    `json:"yours,omitempty"`
}

func (p *conflictProblem) Error() string             { return p.Detail }
func (p *conflictProblem) GetStatus() int            { return p.Status }
func (p *conflictProblem) ContentType(string) string { return "application/problem+json" }

// problem ends a request outside the operations with what is told of an error.
func problem(c *gin.Context, err error) {
	status, says, ok := telling(err)
	if !ok {
		status, says = http.StatusInternalServerError, err.Error()
	}
	problemOf(c, huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: says})
}

func problemOf(c *gin.Context, model huma.ErrorModel) {
	body, _ := json.Marshal(model) // strings and a number: cannot fail
	c.Data(model.Status, "application/problem+json", body)
	c.Abort()
}

func recovered(c *gin.Context, what any) {
	if what == http.ErrAbortHandler {
		panic(what) // an answer that is cut short on purpose
	}
	slog.Error("request panicked", "path", c.Request.URL.Path, "panic", fmt.Sprint(what))
	problem(c, errProgram)
}

// unusable is the problem document for what design refuses: one sentence on the
// first mistake, and the place of each as JSON Pointer below at.
func unusable(what, at string, err error) error {
	var problems design.Problems
	if !errors.As(err, &problems) || len(problems) == 0 {
		return err
	}
	details := make([]error, len(problems))
	for i, p := range problems {
		details[i] = &huma.ErrorDetail{Location: at + p.Pointer, Message: p.Message}
	}
	says := "This " + what + " cannot be used as it stands: " + fieldWord(problems[0].Pointer) + problems[0].Message
	if more := len(problems) - 1; more > 0 {
		says += fmt.Sprintf(" (and %d more)", more)
	}
	return huma.NewError(http.StatusUnprocessableEntity, says+".", details...)
}

// fieldWord names the field a pointer ends in, and which item of it; empty for the
// document as a whole.
func fieldWord(pointer string) string {
	steps := strings.Split(pointer, "/")
	last := steps[len(steps)-1]
	if n, err := strconv.Atoi(last); err == nil && len(steps) > 2 {
		last = fmt.Sprintf("%s, number %d", steps[len(steps)-2], n+1)
	}
	if last == "" {
		return ""
	}
	return last + ": "
}
