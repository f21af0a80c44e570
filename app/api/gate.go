package api

import (
	"context"
	"errors"
	"net/http"
	"runtime"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"photherm/app/compute"
)

// longestAnswer bounds what one question may take, waiting included (chosen).
const longestAnswer = 20 * time.Second

func newGate(until context.Context) *compute.Gate {
	if until == nil {
		until = context.Background()
	}
	return compute.New(until, runtime.GOMAXPROCS(0), longestAnswer)
}

// asked is a key of a request's context: who asks which question.
type asked struct{}

// noteAsker keeps who asks which question: of the same tab and name the newest wins.
func noteAsker(c *gin.Context) {
	tab, question := c.GetHeader("X-Photherm-Tab"), c.GetHeader("X-Photherm-Question")
	if tab != "" && question != "" && len(tab) <= 64 && len(question) <= 64 {
		c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), asked{}, tab+" "+question))
	}
}

// gated puts a computing handler behind the gate: as many at once as there are cores,
// each with a deadline, withdrawn when the asker leaves or asks anew.
func gated[I, O any](s *server, handle func(context.Context, *I) (*O, error)) func(context.Context, *I) (*O, error) {
	return func(ctx context.Context, in *I) (*O, error) {
		key, _ := ctx.Value(asked{}).(string)
		inside, leave, err := s.gate.Enter(ctx, key)
		if err != nil {
			return nil, s.turnedAway(ctx, err)
		}
		defer leave()
		out, err := handle(inside, in)
		if err != nil && inside.Err() != nil {
			return nil, s.turnedAway(ctx, context.Cause(inside))
		}
		return out, err
	}
}

// turnedAway says why a question was not answered.
func (s *server) turnedAway(ctx context.Context, err error) error {
	switch {
	case errors.Is(err, compute.ErrSuperseded):
		return huma.NewError(http.StatusConflict, "A newer question took the place of this one.")
	case errors.Is(err, compute.ErrClosing):
		return huma.Error503ServiceUnavailable("The program is stopping.")
	case errors.Is(err, context.DeadlineExceeded):
		return huma.Error422UnprocessableEntity("This takes too long to calculate just now. Fewer branches or a plainer tree will do, or ask again when less is asked at once.")
	}
	return s.failure(ctx, err)
}
