package api

import (
	"context"
	"errors"
	"runtime"
	"time"

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
		inside, leave, err := s.enter(ctx)
		if err != nil {
			return nil, err
		}
		defer leave()
		out, err := handle(inside, in)
		if err != nil && inside.Err() != nil {
			return nil, s.failure(ctx, why(inside, err))
		}
		return out, err
	}
}

// enter waits for the gate; what is returned second leaves it.
func (s *server) enter(ctx context.Context) (context.Context, func(), error) {
	return s.enterBy(ctx, s.gate.Enter)
}

func (s *server) enterBy(ctx context.Context, way func(context.Context, string) (context.Context, func(), error)) (context.Context, func(), error) {
	key, _ := ctx.Value(asked{}).(string)
	inside, leave, err := way(ctx, key)
	if err != nil {
		return nil, nil, s.failure(ctx, late(err))
	}
	return inside, leave, nil
}

// why is what ended a piece of work: the gate, if that has.
func why(inside context.Context, err error) error {
	if inside.Err() != nil {
		return late(context.Cause(inside))
	}
	return err
}

// late tells a deadline of the gate from one of the light.
func late(err error) error {
	if errors.Is(err, context.DeadlineExceeded) {
		return errTooLongHere
	}
	return err
}
