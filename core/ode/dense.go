package ode

import (
	"math"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"
)

// Dense is a Linear by differences and a dense factorisation: for systems of few
// equations.
type Dense struct {
	f            System
	n            int
	jac          []float64
	probe, moved []float64
	lu           blas64.General
	pivot        []int
}

// NewDense is a Dense for n equations.
func NewDense(n int, f System) *Dense {
	return &Dense{
		f: f, n: n, jac: make([]float64, n*n), probe: make([]float64, n), moved: make([]float64, n),
		lu: blas64.General{Rows: n, Cols: n, Stride: max(n, 1), Data: make([]float64, n*n)}, pivot: make([]int, n),
	}
}

// At takes the Jacobian by one-sided differences.
func (d *Dense) At(t float64, y, f []float64) {
	copy(d.probe, y)
	for j := range d.n {
		h := 1e-6 * max(1, math.Abs(y[j]))
		d.probe[j] += h
		d.f(t, d.probe, d.moved)
		d.probe[j] = y[j]
		for i := range d.n {
			d.jac[i*d.n+j] = (d.moved[i] - f[i]) / h
		}
	}
}

// Factor prepares 1 − c·J.
func (d *Dense) Factor(c float64) {
	if d.n == 0 {
		return
	}
	for i := range d.lu.Data {
		d.lu.Data[i] = -c * d.jac[i]
	}
	for i := range d.n {
		d.lu.Data[i*d.n+i] += 1
	}
	lapack64.Getrf(d.lu, d.pivot)
}

// Solve solves with what was prepared.
func (d *Dense) Solve(v []float64) {
	if d.n > 0 {
		lapack64.Getrs(blas.NoTrans, d.lu, blas64.General{Rows: d.n, Cols: 1, Stride: 1, Data: v}, d.pivot)
	}
}
