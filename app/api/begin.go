package api

import (
	"context"
	"errors"

	"photherm/core/begin"
	"photherm/core/design"
)

func (s *server) begin(ctx context.Context, in *struct{ Body begin.Facts }) (*struct{ Body *begin.Begun }, error) {
	begun, err := begin.For(in.Body)
	var problems design.Problems
	switch {
	case errors.As(err, &problems):
		return nil, unusable("light", "", problems) // a figure, or a part that was picked, is beyond what one can be
	case err != nil:
		return nil, s.failure(ctx, err)
	}
	return &struct{ Body *begin.Begun }{begun}, nil
}
