package body

// Between is the figure on its way from a to b, t from 0 to 1. Angles are
// mixed; a limb whose end stays where it was is solved to keep it there, any
// other swings along the shortest way. What would sink into a surface on the way goes over it.
func Between(a, b Figure, t float64, scene Scene) Figure {
	p := a.Pose
	p.Pelvis = a.Pose.Pelvis.Mix(b.Pose.Pelvis, t)
	p.Lumbar = a.Pose.Lumbar.Mix(b.Pose.Lumbar, t)
	p.Thoracic = a.Pose.Thoracic.Mix(b.Pose.Thoracic, t)
	p.Cervical = a.Pose.Cervical.Mix(b.Pose.Cervical, t)
	p.Girdle = a.Pose.Girdle + (b.Pose.Girdle-a.Pose.Girdle)*t
	f := Figure{Pose: p}
	raised := 0.0
	for tries := 0; ; tries++ {
		f.Origin = a.Origin.Mix(b.Origin, t).Add(Vec{Z: raised})
		f.Pelvis = bases[p.Base].Bent(p.Pelvis)
		if a.Pose.Base != b.Pose.Base {
			f.Pelvis = a.Pelvis.toward(b.Pelvis, t)
		}
		f.chain()
		for s := range f.Legs {
			f.Legs[s].Root = f.Origin.Along(f.Pelvis.L, signed(s)*hipHalfWidth)
			f.swing(&f.Legs[s], a.Legs[s], b.Legs[s], t, thighLength, shankLength)
			f.shoulder(Side(s), a.Arms[s].Upper().toward(b.Arms[s].Upper(), t))
			f.swing(&f.Arms[s], a.Arms[s], b.Arms[s], t, upperArmLength, foreArmLength)
		}
		f.limbsOut(scene)
		if left := f.left(scene); left > 0 && tries < 3 {
			raised += left
			continue
		}
		return f
	}
}

func (f *Figure) swing(c *LimbChain, a, b LimbChain, t, upper, lower float64) {
	defer func() { c.Fist = a.Fist }()
	c.Axis = a.Axis.toward(b.Axis, t)
	c.Tip, c.Face = a.Tip.toward(b.Tip, t), a.Face.toward(b.Face, t)
	c.bendToes()
	stays := a.End.Sub(b.End).Len() < 0.004
	if !stays && !a.Pinned && !b.Pinned {
		c.Mid = c.Root.Along(a.Upper().toward(b.Upper(), t), upper)
		c.End = c.Mid.Along(a.Lower().toward(b.Lower(), t), lower)
		return
	}
	// A hand or foot that stays, or glides from or to a pin, goes straight.
	end := a.End.Mix(b.End, t)
	bend := a.Mid.Sub(a.Root.Mix(a.End, 0.5)).Mix(b.Mid.Sub(b.Root.Mix(b.End, 0.5)), t)
	if bend.Len() < 0.02 { // too straight to tell: the hinge says where it points
		bend = end.Sub(c.Root).Unit().Cross(c.Axis)
	}
	axis, tip, face, toes := c.Axis, c.Tip, c.Face, c.Toes
	_ = f.reach(c,
		Limb{Pin: &Pin{Of: "world", At: end}, Pole: bend},
		upper,
		lower,
		nil,
	) // between reachable places it misses by the slack at most
	if c.Upper().Cross(c.Lower()).Len() < 0.06 {
		c.Axis = axis
	}
	c.Tip, c.Face, c.Toes = tip, face, toes
}
