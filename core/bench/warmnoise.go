package bench

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
)

// A noise is one that may be: an autoregression of first order, with how likely it is by the log
// once all figures that may be are taken together, and what the figures then are.
type noise struct {
	sigma, rho float64
	weight     float64
	mean       []float64 // of the figures
	cov        *mat.SymDense
}

// Noises that are weighed: how long they hang together, s, and their size (chosen: a draught in a
// room hangs together for seconds to minutes).
var (
	togetherS = []float64{0, 3, 6, 10, 15, 22, 32, 45, 60, 80, 110, 150}
	noiseK    = func() (out []float64) {
		for s := leastNoiseK; s < 3; s *= 1.2 {
			out = append(out, s)
		}
		return out
	}()
)

// weigh asks of each noise how likely the log is with it: the evidence of a linear model with
// Gaussian unknowns (MacKay, Bayesian interpolation, 1992, from memory), along the slopes at the
// figures as they were fitted.
func (w *warmFitting) weigh(theta []float64) error {
	r, err := w.residuals(theta)
	if err != nil {
		return err
	}
	j := growth(w.ctx, theta, r, 1, w.residuals)
	if err := w.ctx.Err(); err != nil {
		return err
	}
	// As it would be with no figure moved, were it linear.
	for k := range j {
		for i := range r {
			r[i] += j[k][i] * theta[k]
		}
	}
	n, count := len(theta), float64(len(r))
	width := w.lastS / count
	w.noises = w.noises[:0]
	best := math.Inf(-1)
	white := make([][]float64, n)
	for _, together := range togetherS {
		rho := 0.0
		if together > 0 {
			rho = math.Exp(-width / together)
		}
		e := whitened(r, 1, rho)
		for k := range j {
			white[k] = whitened(j[k], 1, rho)
		}
		gram, right, square := mat.NewSymDense(n, nil), mat.NewVecDense(n, nil), 0.0
		for k := range n {
			for l := k; l < n; l++ {
				gram.SetSym(k, l, dot(white[k], white[l]))
			}
			right.SetVec(k, dot(white[k], e))
		}
		square = dot(e, e)
		for _, size := range noiseK {
			sigma := size * math.Sqrt(1-rho*rho)
			normal := mat.NewSymDense(n, nil)
			for k := range n {
				for l := k; l < n; l++ {
					x := gram.At(k, l) / (sigma * sigma)
					if k == l {
						x++
					}
					normal.SetSym(k, l, x)
				}
			}
			var chol mat.Cholesky
			if !chol.Factorize(normal) {
				continue
			}
			var mean mat.VecDense
			scaled := mat.NewVecDense(n, nil)
			scaled.ScaleVec(1/(sigma*sigma), right)
			if chol.SolveVecTo(&mean, scaled) != nil {
				continue
			}
			log := -count*math.Log(sigma) + 0.5*math.Log(1-rho*rho) - 0.5*chol.LogDet() - 0.5*(square/(sigma*sigma)-mat.Dot(&mean, scaled))
			cov := mat.NewSymDense(n, nil)
			if chol.InverseTo(cov) != nil {
				continue
			}
			w.noises = append(w.noises, noise{sigma, rho, log, mean.RawVector().Data, cov})
			if log > best {
				best, w.sigma, w.rho = log, sigma, rho
			}
		}
	}
	sum := 0.0
	for i := range w.noises {
		w.noises[i].weight = math.Exp(w.noises[i].weight - best)
		sum += w.noises[i].weight
	}
	if sum == 0 || len(w.noises) == 0 {
		return fmt.Errorf("the log tells nothing of this light: %w", errUnknown)
	}
	kept := w.noises[:0]
	for _, x := range w.noises {
		if x.weight /= sum; x.weight > 1e-4 {
			kept = append(kept, x)
		}
	}
	w.noises = kept
	return nil
}

func dot(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// span is the middle four fifths of a figure that stands at a value and has slopes with the
// figures that were fitted: over all noises that may be.
func (w *warmFitting) span(value float64, slope, theta []float64) (low, high float64) {
	type part struct{ weight, mean, sd float64 }
	var parts []part
	far := 0.0
	for _, x := range w.noises {
		p := part{x.weight, value, math.Sqrt(quadratic(slope, x.cov))}
		for k := range slope {
			p.mean += slope[k] * (x.mean[k] - theta[k])
		}
		parts = append(parts, p)
		far = max(far, math.Abs(p.mean-value)+5*p.sd)
	}
	at := func(share float64) float64 {
		low, high := value-far-1e-9, value+far+1e-9
		for range 60 {
			mid, below := (low+high)/2, 0.0
			for _, p := range parts {
				below += p.weight * 0.5 * math.Erfc(-(mid-p.mean)/max(p.sd, 1e-12)/math.Sqrt2)
			}
			if below < share {
				low = mid
			} else {
				high = mid
			}
		}
		return (low + high) / 2
	}
	return at(0.1), at(0.9)
}
