package bench

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/mat"
)

// When a fit has come to rest, how many rounds it gets, and the step of its slopes in standard
// deviations (chosen).
const (
	fitRounds = 15
	fitStill  = 1e-3
	slopeStep = 0.4
)

// mostLikely is the unknowns, each in its own standard deviations from what is said beforehand,
// that make the squares of residuals and unknowns together least, by Gauss–Newton, and their
// covariance there (Tarantola, Inverse Problem Theory, 2005, ch. 3, from memory). Residuals come
// over their standard deviations: read less computed. gonum has no least squares that are not
// linear. Residuals are asked for by as many workers at once.
func mostLikely(ctx context.Context, start []float64, workers int, residuals func(theta []float64) ([]float64, error)) (theta []float64, cov *mat.SymDense, err error) {
	n := len(start)
	theta = slices.Clone(start)
	now, err := residuals(theta)
	if err != nil {
		return nil, nil, err
	}
	cost := squares(now, theta)
	normal, right := normalAt(ctx, theta, now, workers, residuals)
	for range fitRounds {
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		var chol mat.Cholesky
		if !chol.Factorize(normal) {
			return nil, nil, fmt.Errorf("the readings do not hang together: %w", errUnknown)
		}
		step := mat.NewVecDense(n, nil)
		if err := chol.SolveVecTo(step, mat.NewVecDense(n, right)); err != nil {
			return nil, nil, fmt.Errorf("solving for the figures: %w", err)
		}
		// Half the step until the sum falls: figures have ends, and laws bend.
		moved := 0.0
		for share := 1.0; share > 1e-3; share /= 2 {
			next := make([]float64, n)
			far := 0.0
			for k := range next {
				next[k] = theta[k] + share*step.AtVec(k)
				far = max(far, math.Abs(next[k]-theta[k]))
			}
			at, err := residuals(next)
			if err != nil {
				if ctx.Err() != nil {
					return nil, nil, err
				}
				continue
			}
			if c := squares(at, next); c <= cost {
				theta, now, cost, moved = next, at, c, far
				break
			}
		}
		normal, right = normalAt(ctx, theta, now, workers, residuals)
		if moved < fitStill {
			break
		}
	}
	return theta, inverse(normal), nil
}

func squares(lists ...[]float64) float64 {
	sum := 0.0
	for _, l := range lists {
		for _, x := range l {
			sum += x * x
		}
	}
	return sum
}

// normalAt is JᵀJ + 1, and the right side Jᵀr − θ.
func normalAt(ctx context.Context, theta, now []float64, workers int, residuals func([]float64) ([]float64, error)) (*mat.SymDense, []float64) {
	n, j := len(theta), growth(ctx, theta, now, workers, residuals)
	normal, right := mat.NewSymDense(n, nil), make([]float64, n)
	for k := range n {
		for l := k; l < n; l++ {
			sum := 0.0
			for i := range now {
				sum += j[k][i] * j[l][i]
			}
			if k == l {
				sum++
			}
			normal.SetSym(k, l, sum)
		}
		for i := range now {
			right[k] += j[k][i] * now[i]
		}
		right[k] -= theta[k]
	}
	return normal, right
}

// growth is how what is computed grows with each unknown: how its residuals fall. An unknown with
// no room to move stays.
func growth(ctx context.Context, theta, now []float64, workers int, residuals func([]float64) ([]float64, error)) [][]float64 {
	j := make([][]float64, len(theta))
	next := make(chan int)
	var group sync.WaitGroup
	for range max(1, min(workers, len(j))) {
		group.Go(func() {
			for k := range next {
				j[k] = growthOf(ctx, k, theta, now, residuals)
			}
		})
	}
	for k := range j {
		next <- k
	}
	close(next)
	group.Wait()
	return j
}

func growthOf(ctx context.Context, k int, theta, now []float64, residuals func([]float64) ([]float64, error)) []float64 {
	j := make([]float64, len(now))
	for _, step := range []float64{slopeStep, -slopeStep} {
		moved := slices.Clone(theta)
		moved[k] += step
		at, err := residuals(moved)
		if err != nil {
			if ctx.Err() != nil {
				break
			}
			continue
		}
		for i := range at {
			j[i] = (now[i] - at[i]) / step
		}
		break
	}
	return j
}

// inverse of a matrix that is positive; what cannot be inverted leaves all as it was beforehand.
func inverse(a *mat.SymDense) *mat.SymDense {
	var chol mat.Cholesky
	out := mat.NewSymDense(a.SymmetricDim(), nil)
	if !chol.Factorize(a) || chol.InverseTo(out) != nil {
		for k := range a.SymmetricDim() {
			out.SetSym(k, k, 1)
		}
	}
	return out
}
